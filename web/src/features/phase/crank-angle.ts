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

/** Degrees between two times, or null where cycles between them were left out. */
export function crankAngleBetween(strip: Strip, from: number, to: number): number | null {
  const a = crankAngle(strip, from);
  const b = crankAngle(strip, to);
  if (a === null || b === null) return null;
  const low = Math.min(from, to);
  const high = Math.max(from, to);
  const inside = strip.cycles.filter((c) => c.to_s >= low && c.from_s <= high);
  const unbroken = inside.every((c, i) => i === 0 || Math.abs(c.from_s - (inside[i - 1]?.to_s ?? 0)) < 1e-4);
  return unbroken ? b - a : null;
}
