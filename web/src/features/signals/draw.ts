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

export function drawBand(
  context: CanvasRenderingContext2D,
  channel: TraceChannel,
  view: View,
  box: Box,
  color: string,
  y: (v: number) => number,
): void {
  const perSecond = box.width / (view.toS - view.fromS);
  const first = box.left + (channel.start_s - view.fromS) * perSecond;
  const step = channel.step_s * perSecond;
  context.save();
  context.beginPath();
  context.rect(box.left, box.top, box.width, box.height);
  context.clip();
  context.strokeStyle = color;
  context.lineWidth = 1.2;
  context.beginPath();
  let pen = false;
  for (let i = 0; i < channel.steps; i++) {
    const low = channel.low[i] ?? NaN;
    const high = channel.high[i] ?? NaN;
    if (Number.isNaN(low)) {
      pen = false;
      continue;
    }
    const x = first + i * step;
    if (pen) context.lineTo(x, y(high));
    else context.moveTo(x, y(high));
    if (low !== high) context.lineTo(x, y(low));
    pen = true;
  }
  context.stroke();
  context.restore();
}

/** The same band as an SVG path. */
export function bandPath(channel: TraceChannel, view: View, box: Box, y: (v: number) => number): string {
  const perSecond = box.width / (view.toS - view.fromS);
  const first = box.left + (channel.start_s - view.fromS) * perSecond;
  const step = channel.step_s * perSecond;
  let path = "";
  let pen = false;
  for (let i = 0; i < channel.steps; i++) {
    const low = channel.low[i] ?? NaN;
    const high = channel.high[i] ?? NaN;
    if (Number.isNaN(low)) {
      pen = false;
      continue;
    }
    path += `${pen ? "L" : "M"}${(first + i * step).toFixed(1)} ${y(high).toFixed(1)}`;
    if (low !== high) path += `V${y(low).toFixed(1)}`;
    pen = true;
  }
  return path;
}
