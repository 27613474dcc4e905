import type { Station } from "../../app/station";
import { SealStation } from "./SealStation";

export const sealStation: Station = {
  id: "seal",
  name: "Seal",
  component: ({ job }) => <SealStation jobId={job.id} />,
  note: ({ analysis }) => {
    const sealing = analysis?.analysis.sealing ?? null;
    return { done: sealing !== null, note: sealing ?? "not measured" };
  },
  keys: [],
};
