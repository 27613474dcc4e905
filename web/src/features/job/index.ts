export { JobPage } from "./JobPage";
export { StationPage } from "./StationPage";
export { STATIONS } from "./stations";
