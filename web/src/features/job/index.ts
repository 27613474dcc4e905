export { JobPage } from "./JobPage";
export { StationPage } from "./StationPage";
