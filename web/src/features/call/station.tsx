import type { Station } from "../../app/station";
import { CallStation } from "./CallStation";

const GATE = { go: "open up", confirm_first: "confirm first", no: "covers stay on" } as const;

export const callStation: Station = {
  id: "call",
  name: "Call",
  component: ({ job }) => <CallStation jobId={job.id} />,
  note: ({ analysis }) => {
    const verdict = analysis?.analysis.verdict;
    return { done: false, note: verdict ? GATE[verdict.teardown] : "no call yet" };
  },
  keys: [],
};
