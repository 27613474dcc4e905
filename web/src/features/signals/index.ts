export { SIGNAL_KEYS } from "./keys";
export { laneColor, laneName, ROLE_NAMES } from "./names";
export { type Rulers, SignalStrip } from "./SignalStrip";
export { traceQuery } from "./trace";
export type { Place } from "./view";
