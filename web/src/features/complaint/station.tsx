import type { Station } from "../../app/station";
import { ComplaintStation } from "./ComplaintStation";

export const complaintStation: Station = {
  id: "complaint",
  name: "Complaint",
  component: ComplaintStation,
  note: ({ job }) => ({ done: true, note: [job.complaint, ...job.codes].filter(Boolean).join(", ") || "none noted" }),
  keys: [
    ["T, A", "Write the complaint, add a code"],
    ["P", "Paste what the scan tool shows"],
    ["S", "Read the scan tool"],
    ["R, E", "What was replaced, what else is known"],
  ],
};
