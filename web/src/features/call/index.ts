export { CasePanel } from "./CasePanel";
export { callStation } from "./station";
