export { cylinderStation } from "./station";
