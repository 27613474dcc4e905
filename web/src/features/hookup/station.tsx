import type { Station } from "../../app/station";
import { HookUpStation } from "./HookUpStation";

export const hookUpStation: Station = {
  id: "hook-up",
  name: "Hook-up",
  component: ({ job }) => <HookUpStation jobId={job.id} />,
  note: ({ job }) => {
    const { channels, ticked, cautions } = job.hook_up;
    return channels === 0
      ? { done: false, note: "not planned" }
      : { done: ticked === cautions, note: `${String(channels)} channels, ${String(ticked)} of ${String(cautions)} ticked` };
  },
  keys: [
    ["← →", "Another question"],
    ["N", "More or fewer channels"],
    ["↑ ↓, Space", "Walk through the cautions, tick one"],
    ["I", "Type in pins and colours"],
    ["O", "One page to print or to take along"],
  ],
};
