export { RecordCard } from "./RecordCard";
export { RecordSide } from "./RecordSide";
export { Recording } from "./Recording";
export { SensorTestPanel } from "./SensorTestPanel";
