export { laneColor, laneName, ROLE_NAMES } from "./names";
export { type Place, type Rulers, SignalStrip } from "./SignalStrip";
export { traceQuery } from "./trace";
