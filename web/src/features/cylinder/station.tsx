import type { Station } from "../../app/station";
import { CylinderStation } from "./CylinderStation";

export const cylinderStation: Station = {
  id: "cylinder",
  name: "Cylinder",
  component: ({ job }) => <CylinderStation jobId={job.id} />,
  note: ({ analysis }) => {
    const felt = analysis?.analysis.felt ?? null;
    return { done: felt !== null, note: felt ?? "no pressure recorded" };
  },
  keys: [
    ["← →", "Step through the cycles of the pressure"],
    ["0", "The mean of all cycles again"],
    ["↑ ↓", "Previous or next felt cylinder"],
    ["H", "Set a corner by hand: Tab which, arrows half a degree, Enter keeps, Delete back to found"],
    ["L", "Loupes larger or smaller"],
    ["V", "Pressure over volume, logarithmic or plain"],
    ["P", "Bar, psi or kPa"],
  ],
};
