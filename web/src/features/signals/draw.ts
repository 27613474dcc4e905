/** Draws bands of minima and maxima on a canvas, and the same as SVG paths. No framework. */
import { scaleLinear } from "d3-scale";

import { reach, type TraceChannel } from "./band";

/** Where the signals begin: left of it stand the names. */
export const LEFT = 94;

const LINE = 1.2;

export type Box = { left: number; top: number; width: number; height: number };
export type View = { fromS: number; toS: number };

/** Pixel of a value within a lane; `gain` over 1 enlarges about the middle of the channel's own reach. */
export function valueScale(channel: TraceChannel, box: Box, gain: number): (v: number) => number {
  const [low, high] = reach(channel);
  const middle = (low + high) / 2;
  const half = Math.max((high - low) / 2, 1e-9) / gain;
  const pad = 5;
  return scaleLinear([middle - half, middle + half], [box.top + box.height - pad, box.top + pad]);
}

/** What a band is drawn with: a canvas, or a path being written. */
type Pen = { moveTo: (x: number, y: number) => void; lineTo: (x: number, y: number) => void };

type Bars = { fillRect: (x: number, y: number, width: number, height: number) => void };

/** Runs along the band from maximum to minimum of every step; a step without samples interrupts it. */
function along(pen: Pen, channel: TraceChannel, view: View, box: Box, y: (v: number) => number): void {
  const perSecond = box.width / (view.toS - view.fromS);
  const first = box.left + (channel.start_s - view.fromS) * perSecond;
  const step = channel.step_s * perSecond;
  let down = false;
  for (let i = 0; i < channel.steps; i++) {
    const low = channel.low[i] ?? NaN;
    const high = channel.high[i] ?? NaN;
    if (Number.isNaN(low)) {
      down = false;
      continue;
    }
    const x = first + i * step;
    if (down) pen.lineTo(x, y(high));
    else pen.moveTo(x, y(high));
    if (low !== high) pen.lineTo(x, y(low));
    down = true;
  }
}

/** One bar per pixel column over all its steps, joined to the column before: filling these is much quicker than
 * stroking a line along every step. */
function bars(pen: Bars, channel: TraceChannel, view: View, box: Box, y: (v: number) => number): void {
  const perSecond = box.width / (view.toS - view.fromS);
  const first = box.left + (channel.start_s - view.fromS) * perSecond;
  const step = channel.step_s * perSecond;
  let column = NaN;
  let low = Infinity;
  let high = -Infinity;
  let before: [number, number] | null = null;
  const flush = () => {
    if (low > high) return;
    const from = before ? Math.min(low, before[1]) : low;
    const to = before ? Math.max(high, before[0]) : high;
    const top = y(to) - LINE / 2;
    pen.fillRect(column, top, Math.max(1, Math.ceil(step)), y(from) - top + LINE / 2);
    before = [low, high];
  };
  for (let i = 0; i < channel.steps; i++) {
    const here = Math.floor(first + i * step);
    if (here !== column) {
      flush();
      if (here > column + Math.max(1, step) + 1) before = null;
      column = here;
      low = Infinity;
      high = -Infinity;
    }
    const a = channel.low[i] ?? NaN;
    const b = channel.high[i] ?? NaN;
    if (a < low) low = a;
    if (b > high) high = b;
    if (Number.isNaN(a)) before = null;
  }
  flush();
}

export function drawBand(
  context: CanvasRenderingContext2D,
  channel: TraceChannel,
  view: View,
  box: Box,
  color: string,
  y: (v: number) => number,
): void {
  context.save();
  context.beginPath();
  context.rect(box.left, box.top, box.width, box.height);
  context.clip();
  const perStep = (channel.step_s * box.width) / (view.toS - view.fromS);
  if (perStep < 2) {
    context.fillStyle = color;
    bars(context, channel, view, box, y);
  } else {
    context.beginPath();
    context.strokeStyle = color;
    context.lineWidth = LINE;
    along(context, channel, view, box, y);
    context.stroke();
  }
  context.restore();
}

/** The same band as an SVG path. */
export function bandPath(channel: TraceChannel, view: View, box: Box, y: (v: number) => number): string {
  let path = "";
  const write = (letter: string) => (x: number, at: number) => {
    path += `${letter}${x.toFixed(1)} ${at.toFixed(1)}`;
  };
  along({ moveTo: write("M"), lineTo: write("L") }, channel, view, box, y);
  return path;
}
