/** One channel between two times: minimum and maximum of every step. No framework. */
import type { Schemas } from "../../api/client";

export type TraceChannel = Schemas["RawChannel"] & { low: Float32Array; high: Float32Array };

/** Smallest and largest of a channel; missing steps do not count. */
export function reach(channel: TraceChannel): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < channel.steps; i++) {
    const a = channel.low[i] ?? NaN;
    const b = channel.high[i] ?? NaN;
    if (a < low) low = a;
    if (b > high) high = b;
  }
  return low <= high ? [low, high] : [0, 1];
}
