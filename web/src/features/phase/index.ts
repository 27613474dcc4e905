export { PhaseStation } from "./PhaseStation";
