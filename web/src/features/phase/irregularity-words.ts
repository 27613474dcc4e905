/** Irregularities in words. */
import type { Schemas } from "../../api/client";

export type Irregularity = Schemas["IrregularityResult"];

/** How much of the capture to show around one: a silent stretch whole, a pulse with its neighbours. */
export function lookSpan(one: Irregularity): number {
  return Math.max(0.06, 1.6 * (one.to_s - one.time_s));
}

export function oddWords(one: Irregularity): string {
  if (one.kind === "silent") return `no pulses for ${((one.to_s - one.time_s) * 1000).toFixed(0)} ms`;
  const pulses = one.count === 1 ? "pulse" : "pulses";
  return `${one.count} ${pulses} ${one.kind === "missing" ? "lost" : "added"}`;
}

export function placeWords(one: Irregularity): string {
  const parts = [`${one.time_s.toFixed(3)} s`];
  if (one.cycle !== null) parts.push(`cycle ${one.cycle}`);
  if (one.angle_deg !== null) parts.push(`${one.angle_deg.toFixed(0)}°`);
  return parts.join(", ");
}
