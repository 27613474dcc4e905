export { CasePanel } from "./CasePanel";
export { type School, SCHOOLS } from "./schools";
export { callStation } from "./station";
