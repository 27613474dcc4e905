import type { Station } from "../../app/station";
import { HandOverStation } from "./HandOverStation";

export const handOverStation: Station = {
  id: "hand-over",
  name: "Hand-over",
  component: HandOverStation,
  note: ({ job }) =>
    job.closed_at
      ? { done: true, note: `closed, cause ${job.cause ?? "unknown"}` }
      : job.repaired_at
        ? { done: false, note: "repaired, to be proved" }
        : { done: false, note: "not handed over yet" },
  keys: [
    ["Enter", "Copy the first word: picture and five lines"],
    ["P, H, O", "PDF, HTML, the owner's page as PDF"],
    ["V, R, X", "Pages, repair and proof, close the job"],
  ],
};
