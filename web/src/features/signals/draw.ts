/** Draws bands of minima and maxima on a canvas, and the same as SVG paths. No framework. */
import { reach, type TraceChannel } from "./trace";

/** Where the signals begin: left of it stand the names. */
export const LEFT = 94;

export type Box = { left: number; top: number; width: number; height: number };
export type View = { fromS: number; toS: number };

/** Pixel of a value within a lane; `gain` over 1 enlarges about the middle of the channel's own reach. */
export function valueScale(channel: TraceChannel, box: Box, gain: number, fixed: [number, number] | null): (v: number) => number {
  const [low, high] = fixed ?? reach(channel);
  const middle = (low + high) / 2;
  const half = Math.max((high - low) / 2, 1e-9) / gain;
  const pad = 5;
  return (v) => box.top + pad + (1 - (v - (middle - half)) / (2 * half)) * (box.height - 2 * pad);
}

/** What a band is drawn with: a canvas, or a path being written. */
type Pen = { moveTo: (x: number, y: number) => void; lineTo: (x: number, y: number) => void };

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
  context.strokeStyle = color;
  context.lineWidth = 1.2;
  context.beginPath();
  along(context, channel, view, box, y);
  context.stroke();
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
