export { ConditionsPanel } from "./ConditionsPanel";
export { DrivePanel } from "./DrivePanel";
export { KnownGoodChoice } from "./KnownGoodChoice";
export { LibraryPanel } from "./LibraryPanel";
export { ProposalPanel } from "./ProposalPanel";
export { keptParts, ProposalTable } from "./ProposalTable";
export { StandardsPanel } from "./StandardsPanel";
export { SweepPanel } from "./SweepPanel";
