/** Bands of minima and maxima: what is drawn of them, and that every step is in it. */
import { describe, expect, it } from "vitest";

import { reach, type TraceChannel } from "../src/features/signals/band";
import { bandPath, drawBand, valueScale } from "../src/features/signals/draw";
import { svgOf } from "../src/features/signals/picture";
import { unpacked } from "../src/features/signals/trace";

const BOX = { left: 100, top: 0, width: 100, height: 50 };
const VIEW = { fromS: 0, toS: 1 };

function channel(low: number[], high: number[] = low, stepS = 1 / low.length): TraceChannel {
  const said = { column: "c1", role: "other", cam: null, unit: "V" } as unknown as TraceChannel;
  return { ...said, start_s: 0, step_s: stepS, steps: low.length, low: Float32Array.from(low), high: Float32Array.from(high) };
}

type Rect = [number, number, number, number];

/** What a canvas was asked for. */
function canvas() {
  const rects: Rect[] = [];
  const lines: [number, number][] = [];
  const ignore = () => undefined;
  const context = {
    save: ignore,
    restore: ignore,
    beginPath: ignore,
    rect: ignore,
    clip: ignore,
    stroke: ignore,
    fillRect: (...rect: Rect) => rects.push(rect),
    moveTo: (x: number, y: number) => lines.push([x, y]),
    lineTo: (x: number, y: number) => lines.push([x, y]),
  };
  return { rects, lines, context: context as unknown as CanvasRenderingContext2D };
}

describe("the reach of a channel", () => {
  it("leaves missing steps out", () => {
    expect(reach(channel([1, NaN, -2], [3, NaN, 0]))).toEqual([-2, 3]);
    expect(reach(channel([NaN, NaN]))).toEqual([0, 1]);
  });

  it("fills its lane, and more where it is enlarged", () => {
    const y = valueScale(channel([0, 10]), BOX, 1);
    expect([y(10), y(5), y(0)]).toEqual([5, 25, 45]);
    const enlarged = valueScale(channel([0, 10]), BOX, 2);
    expect(enlarged(5)).toBe(25);
    expect(enlarged(7.5)).toBe(5);
  });
});

describe("many steps a pixel", () => {
  const values = Array.from({ length: 1000 }, (_, i) => Math.sin(i / 30));

  it("are one bar a column over all of them", () => {
    const { rects, context, lines } = canvas();
    const drawn = channel(values);
    const y = valueScale(drawn, BOX, 1);
    drawBand(context, drawn, VIEW, BOX, "#000", y);
    expect(lines).toEqual([]);
    expect(rects.length).toBe(100);
    rects.forEach(([x, top, , height], column) => {
      const own = values.slice(10 * column, 10 * column + 10);
      expect(x).toBe(100 + column);
      expect(top).toBeLessThanOrEqual(y(Math.max(...own)));
      expect(top + height).toBeGreaterThanOrEqual(y(Math.min(...own)));
    });
  });

  it("join from column to column", () => {
    const { rects, context } = canvas();
    const drawn = channel(Array.from({ length: 200 }, (_, i) => (i < 100 ? 0 : 10)));
    drawBand(context, drawn, VIEW, BOX, "#000", valueScale(drawn, BOX, 1));
    const jump = rects.find(([, , , height]) => height > 30);
    expect(jump?.[0]).toBe(150);
  });

  it("show a single spike", () => {
    const { rects, context } = canvas();
    const drawn = channel(Array.from({ length: 1000 }, (_, i) => (i === 505 ? 10 : 0)));
    drawBand(context, drawn, VIEW, BOX, "#000", valueScale(drawn, BOX, 1));
    expect(rects.filter(([, , , height]) => height > 30).map(([x]) => x)).toEqual([150]);
  });

  it("leave a hole where samples are missing", () => {
    const { rects, context } = canvas();
    const drawn = channel(Array.from({ length: 1000 }, (_, i) => (i >= 400 && i < 600 ? NaN : 1)));
    drawBand(context, drawn, VIEW, BOX, "#000", valueScale(drawn, BOX, 1));
    expect(rects.filter(([x]) => x >= 141 && x < 159)).toEqual([]);
  });
});

it("few steps are a line through every one", () => {
  const { rects, lines, context } = canvas();
  const drawn = channel([0, 10, 0, 10]);
  drawBand(context, drawn, VIEW, BOX, "#000", valueScale(drawn, BOX, 1));
  expect(rects).toEqual([]);
  expect(lines).toEqual([
    [100, 45],
    [125, 5],
    [150, 45],
    [175, 5],
  ]);
});

it("the path of the file is the line on screen, broken at missing samples", () => {
  const drawn = channel([0, NaN, 10, 10]);
  expect(bandPath(drawn, VIEW, BOX, valueScale(drawn, BOX, 1))).toBe("M100.0 45.0M150.0 5.0L175.0 5.0");
});

it("a picture says its names safely", () => {
  const drawn = channel([0, 1]);
  const svg = svgOf({
    width: 300,
    height: 80,
    paper: "#fff",
    text: "#000",
    view: VIEW,
    title: "A & B <1>",
    lanes: [{ name: 'Cam "B1I"', nameTop: 18, below: "0 to 1 V", color: "#123", channel: drawn, box: BOX, y: valueScale(drawn, BOX, 1) }],
    rulers: [{ name: "A", x: 120 }],
    ticks: [{ x: 100, text: "0.0" }],
  });
  expect(svg).toContain("<title>A &amp; B &lt;1&gt;</title>");
  expect(svg).toContain("Cam &quot;B1I&quot;");
  expect(svg.match(/<path /g)?.length).toBe(1);
});

it("the server's answer is unpacked as it was packed", () => {
  const head = new TextEncoder().encode(
    JSON.stringify({ from_s: 1, to_s: 2, channels: [{ column: "c1", steps: 2 }, { column: "c2", steps: 1 }] }).padEnd(100),
  );
  const answer = new ArrayBuffer(4 + head.length + 4 * 6);
  new DataView(answer).setUint32(0, head.length, true);
  new Uint8Array(answer, 4, head.length).set(head);
  new Float32Array(answer, 4 + head.length).set([1, 2, 3, 4, 5, 6]);
  const trace = unpacked(answer);
  expect([trace.fromS, trace.toS]).toEqual([1, 2]);
  expect(trace.channels.map((c) => [[...c.low], [...c.high]])).toEqual([
    [[1, 2], [3, 4]],
    [[5], [6]],
  ]);
});
