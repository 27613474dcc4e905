/** Crank angle at a time of the capture, counted on over its cycles; null outside them. */
import type { Strip } from "./strip-geometry";

const CYCLE_DEG = 720;

export function crankAngle(strip: Strip, time: number): number | null {
  const lane = strip.speed_lane;
  const at = strip.cycles.findIndex((c) => time >= c.from_s && time <= c.to_s);
  const times = lane?.times_s[at];
  if (!lane || !times) return null;
  const right = times.findIndex((t) => t >= time);
  if (right <= 0) return CYCLE_DEG * at + (lane.deg[0] ?? 0);
  const t0 = times[right - 1] ?? 0;
  const t1 = times[right] ?? 0;
  const d0 = lane.deg[right - 1] ?? 0;
  const d1 = lane.deg[right] ?? 0;
  return CYCLE_DEG * at + d0 + ((time - t0) / (t1 - t0)) * (d1 - d0);
}
