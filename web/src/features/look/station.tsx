import type { Station } from "../../app/station";
import { LookStation } from "./LookStation";

export const lookStation: Station = {
  id: "look",
  name: "Look and listen",
  component: ({ job }) => <LookStation jobId={job.id} />,
  note: ({ analysis }) => {
    const count = analysis?.analysis.looks?.length ?? 0;
    return { done: count > 0, note: count ? `${String(count)} noted` : "nothing noted" };
  },
  keys: [
    ["↑ ↓, ← →", "Walk through the list, give an answer"],
    ["Backspace, U", "Take an answer out, undo that"],
  ],
};
