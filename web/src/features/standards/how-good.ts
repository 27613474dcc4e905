/** How an engine is known to be good, in a technician's words. */
import type { Schemas } from "../../api/client";

export type HowGood = NonNullable<Schemas["GoodRow"]["how"]>;

export const HOW_GOOD: { value: HowGood; text: string }[] = [
  { value: "marks_seen", text: "Marks seen true" },
  { value: "set_up", text: "Just set up" },
  { value: "runs_well", text: "Runs well, no codes" },
  { value: "said", text: "Somebody says so" },
];

export function howWords(how: HowGood | null): string {
  return HOW_GOOD.find((one) => one.value === how)?.text.toLowerCase() ?? "not said how";
}
