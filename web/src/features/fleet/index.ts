export { FleetPage } from "./FleetPage";
