/** The call in one sentence, the gate's word first. */
import type { Schemas } from "../../api/client";
import { percent } from "../../ui";
import { GATE_WORDS } from "./gate-words";

type Verdict = Schemas["Verdict"];

export function callHeadline(verdict: Verdict) {
  const leader = verdict.faults[0];
  const call = verdict.undecided || !leader ? "undecided" : lower(leader.title);
  const sure = leader && !verdict.undecided ? `${percent(leader.probability)}. ` : "";
  const why = `${sure}${verdict.undecided && verdict.undecided_because ? `${verdict.undecided_because} ` : ""}${verdict.teardown_because}`;
  return { gate: GATE_WORDS[verdict.teardown], call, why, lower, chance: percent };
}

function lower(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}
