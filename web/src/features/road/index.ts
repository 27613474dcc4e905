export { RoadTests } from "./RoadTests";
