import type { Station } from "../../app/station";
import { CapturesStation } from "./CapturesStation";

export const capturesStation: Station = {
  id: "captures",
  name: "Captures",
  component: ({ job }) => <CapturesStation jobId={job.id} />,
  note: ({ captures, recording }) => {
    if (recording) return { done: false, note: "recording" };
    const count = captures?.length ?? 0;
    return { done: count > 0, note: count ? `${String(count)} recorded` : "none yet" };
  },
  keys: [
    ["Space", "Record, and stop recording"],
    ["M, N", "Mark the moment, name the last mark"],
    ["S", "State of the engine"],
    ["A", "Add a capture"],
    ["O", "Signals and channels of the newest capture"],
    ["Enter, Esc", "Confirm the channels, or leave them for later"],
    ["U", "Undo taking a capture out"],
  ],
};
