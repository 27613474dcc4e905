export { CallStation } from "./CallStation";
export { CasePanel } from "./CasePanel";
