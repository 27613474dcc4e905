import { PRACTISING } from "../../api/base";
import type { Station } from "../../app/station";
import { YourCall } from "../practice";
import { CallStation } from "./CallStation";

const GATE = { go: "open up", confirm_first: "confirm first", no: "covers stay on" } as const;

export const callStation: Station = {
  id: "call",
  name: "Call",
  component: ({ job }) => (PRACTISING ? <YourCall jobId={job.id} /> : <CallStation jobId={job.id} />),
  note: ({ analysis }) => {
    const verdict = analysis?.analysis.verdict;
    if (!verdict?.measured) return { done: false, note: "no call yet" };
    return { done: verdict.teardown === "go", note: GATE[verdict.teardown] };
  },
  keys: [
    ["↑ ↓", "the explanation whose reasons are told"],
    ["O", "what opening shows"],
    ["W", "what would change the call"],
  ],
};
