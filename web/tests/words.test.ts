/** Numbers as people read them, and the turn strip's angles. */
import { describe, expect, it } from "vitest";

import { crankAngle } from "../src/features/phase/crank-angle";
import { lookSpan, oddWords, placeWords } from "../src/features/phase/irregularity-words";
import {
  flagRoom,
  highStretches,
  type Lane,
  levelPath,
  placedEdges,
  scaleOf,
  type Strip,
  teethFromGap,
  unrolled,
} from "../src/features/phase/strip-geometry";
import { isLow } from "../src/features/compression/words";
import { offsetWords, percent, plusMinus, signWord, sized } from "../src/ui/words";

describe("offsets", () => {
  it("carry their sign as a word and no more decimals than they are worth", () => {
    expect(offsetWords(17.14, 0.7)).toBe("17.1° late");
    expect(offsetWords(-17.14, 4)).toBe("17° early");
    expect(offsetWords(0.02, 0.5)).toBe("0.0°");
    expect(sized(-3.25, 0.5)).toBe("3.3°");
    expect([signWord(0.04), signWord(0.06), signWord(-2)]).toEqual(["", "late", "early"]);
  });

  it("have a half width of one figure", () => {
    expect([0.004, 0.05, 0.7, 3.4].map(plusMinus)).toEqual(["± 0.01", "± 0.05", "± 0.7", "± 3"]);
  });

  it("are never certain", () => {
    expect([0, 0.5, 0.994, 1].map(percent)).toEqual(["under 1%", "50%", "over 99%", "over 99%"]);
  });
});

describe("irregularities", () => {
  const one = { signal: "crank", channel: "c1", kind: "missing", count: 1, time_s: 1.2345, to_s: 1.2345, cycle: 3, angle_deg: 123.4 } as const;

  it("say what and where", () => {
    expect(oddWords(one)).toBe("1 pulse lost");
    expect(oddWords({ ...one, kind: "extra", count: 4 })).toBe("4 pulses added");
    expect(oddWords({ ...one, kind: "silent", to_s: 1.4845 })).toBe("no pulses for 250 ms");
    expect(placeWords(one)).toBe("1.234 s, cycle 3, 123°");
    expect(placeWords({ ...one, cycle: null, angle_deg: null })).toBe("1.234 s");
  });

  it("are shown with their neighbours, silent stretches whole", () => {
    expect(lookSpan(one)).toBe(0.06);
    expect(lookSpan({ ...one, to_s: 2.2345 })).toBeCloseTo(1.6);
  });
});

const edge = (number: number, kind: "rising" | "falling", measured: number, reference: number | null, delta: number) => ({
  edge: number,
  kind,
  measured_deg: measured,
  reference_deg: reference,
  delta_deg: delta,
  teeth_from_gap: 10,
});

const LANE = {
  edges: [edge(0, "rising", 57, 40, 17), edge(1, "falling", 147, 130, 17)],
  cycle_edges: [
    { cycle: 2, edge: 0, delta_deg: 18 },
    { cycle: 2, edge: 1, delta_deg: 16 },
  ],
} as unknown as Lane;

describe("the turn strip", () => {
  const strip = { origin_deg: -90 } as Strip;
  const scale = scaleOf(strip, 94 + 14 + 720);

  it("begins half a firing interval before TDC 1", () => {
    expect([scale.x(-90), scale.x(0), scale.x(630)]).toEqual([94, 184, 814]);
    expect([unrolled(700, -90), unrolled(-100, -90), unrolled(45, -90)]).toEqual([-20, 620, 45]);
  });

  it("places the mean edges, or those of one cycle", () => {
    expect(placedEdges(LANE, -90, null).map((e) => e.deg)).toEqual([57, 147]);
    expect(placedEdges(LANE, -90, 2).map((e) => e.deg)).toEqual([58, 146]);
    expect(placedEdges(LANE, -90, 3)).toEqual([]);
  });

  it("knows where the signal is high, over the end of the cycle, too", () => {
    expect(highStretches(placedEdges(LANE, -90, null), -90)).toEqual([[57, 147]]);
    const turned = placedEdges(LANE, -90, null).map((e) => ({ ...e, kind: e.kind === "rising" ? ("falling" as const) : ("rising" as const) }));
    expect(highStretches(turned, -90)).toEqual([
      [-90, 57],
      [147, 630],
    ]);
    expect(levelPath(placedEdges(LANE, -90, null), scale, 10, 40)).toBe("M94 40H241.00V10H331.00V40H814");
  });

  it("finds the widest room for its flag", () => {
    expect(flagRoom(placedEdges(LANE, -90, null), scale)).toEqual({ x: 336, width: 461 });
  });

  it("counts wheel teeth either way from the gap", () => {
    expect(teethFromGap(LANE, 0, 6, false)).toBe(10);
    expect(teethFromGap(LANE, 0, 6, true)).toBe(50);
    expect(teethFromGap(LANE, 0, null, false)).toBeNull();
    expect(teethFromGap(LANE, 7, 6, false)).toBeNull();
  });

  it("tells the crank angle at a moment, counted on over the cycles", () => {
    const timed = {
      cycles: [
        { from_s: 0, to_s: 1 },
        { from_s: 1, to_s: 2 },
      ],
      speed_lane: { deg: [-90, 270, 630], times_s: [[0, 0.4, 1], [1, 1.6, 2]] },
    } as unknown as Strip;
    expect(crankAngle(timed, 0.2)).toBeCloseTo(90);
    expect(crankAngle(timed, 1.8)).toBeCloseTo(720 + 450);
    expect(crankAngle(timed, 2.5)).toBeNull();
  });
});

it("low cylinders are the weak and the dead, not the unsure", () => {
  const view = { bars: ["good", "weak", "dead", "unknown"].map((state, i) => ({ cylinder: i + 1, state })) };
  expect([1, 2, 3, 4, 5].map((c) => isLow(view as Parameters<typeof isLow>[0], c))).toEqual([false, true, true, false, false]);
});
