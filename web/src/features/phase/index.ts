export { phaseStation } from "./station";
