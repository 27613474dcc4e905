/** Words and marks of sealing; states are told apart by word and mark, not by colour alone. */
import type { Schemas } from "../../api/client";

type Source = Schemas["CompressionCurve"]["source"];

export const SOURCE_WORDS: Record<Source, string> = {
  starter_current: "Starter current",
  battery_voltage: "Battery voltage",
  crank_speed: "Crank speed",
};

export const STATE_WORDS: Record<Schemas["CompressionBar"]["state"], string> = {
  good: "compresses",
  weak: "weak",
  dead: "does not compress",
  unknown: "not sure enough",
};

export const SOURCE_COLORS: Record<Source, string> = { starter_current: "current", battery_voltage: "current", crank_speed: "crank" };

export function isLow(view: Schemas["CompressionView"], cylinder: number): boolean {
  const state = view.bars.find((bar) => bar.cylinder === cylinder)?.state;
  return state === "weak" || state === "dead";
}

/** Standard deviation over the cycles; one that does not repeat is told. */
export function spreadWords(bar: Pick<Schemas["CompressionBar"], "spread" | "repeats">): string {
  if (typeof bar.spread !== "number") return "";
  const size = `${(100 * bar.spread).toFixed(bar.spread < 0.0095 ? 1 : 0)} %`;
  return bar.repeats === false ? `${size}, not alike` : size;
}
