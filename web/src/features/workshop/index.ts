export { WorkshopPage } from "./WorkshopPage";
