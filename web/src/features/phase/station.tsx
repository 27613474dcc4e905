import type { Station } from "../../app/station";
import { PhaseStation } from "./PhaseStation";

export const phaseStation: Station = {
  id: "phase",
  name: "Phase",
  component: ({ job }) => <PhaseStation jobId={job.id} />,
  note: ({ analysis }) => {
    const finding = analysis?.analysis.finding;
    return { done: Boolean(finding), note: finding?.short ?? "not measured" };
  },
  keys: [
    ["← →", "Step through the cycles"],
    ["0", "All cycles together again"],
    ["E, Shift E", "Loupe on the next or previous edge"],
    ["L", "Loupe on or off"],
    ["T", "Degrees, wheel teeth after or before the gap"],
    ["I, Shift I", "Next or previous irregularity"],
    ["S, V, P, K, N", "Standards, timing drive, phaser sweep, known goods, conditions"],
    ["R", "Raw signals and rulers"],
  ],
};
