export { CapturesStation } from "./CapturesStation";
export { PickedCapture } from "./PickedCapture";
