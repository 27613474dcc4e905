/** The call in one sentence, the gate's word first. */
import type { Schemas } from "../../api/client";
import { GATE_WORDS, lowerFirst, percent, upperFirst } from "../../ui";

type Verdict = Schemas["Verdict"];

export function callHeadline(verdict: Verdict) {
  const leader = verdict.faults[0];
  const call = verdict.undecided || !leader ? "undecided" : lowerFirst(leader.title);
  const sure = leader && !verdict.undecided ? `${percent(leader.probability)}. ` : "";
  const why = `${sure}${verdict.undecided && verdict.undecided_because ? `${verdict.undecided_because} ` : ""}${verdict.teardown_because}`;
  return { gate: upperFirst(GATE_WORDS[verdict.teardown]), call, why };
}
