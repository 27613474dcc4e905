import { PRACTISING } from "../../api/base";
import type { Station } from "../../app/station";
import { GATE_WORDS } from "../../ui";
import { YourCall } from "../practice";
import { CallStation } from "./CallStation";

export const callStation: Station = {
  id: "call",
  name: "Call",
  component: ({ job }) => (PRACTISING ? <YourCall jobId={job.id} /> : <CallStation jobId={job.id} />),
  note: ({ analysis }) => {
    const verdict = analysis?.analysis.verdict;
    if (!verdict?.measured) return { done: false, note: "no call yet" };
    return { done: verdict.teardown === "go", note: GATE_WORDS[verdict.teardown] };
  },
  keys: [
    ["↑ ↓", "the explanation whose reasons are told"],
    ["O", "what opening shows"],
    ["W", "what would change the call"],
  ],
};
