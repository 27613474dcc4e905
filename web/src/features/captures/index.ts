export { PickedCapture } from "./PickedCapture";
export { capturesStation } from "./station";
