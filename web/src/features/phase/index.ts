export { CamLaneView } from "./CamLaneView";
export { CrankRuler } from "./CrankRuler";
export { LaneLabel } from "./LaneLabel";
export { phaseStation } from "./station";
export { LABEL_PX, type Lane, type Scale, scaleOf, type Strip } from "./strip-geometry";
export { restingView } from "./view";
