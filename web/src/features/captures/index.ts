export { dropFiles } from "./dropped";
export { PickedCapture } from "./PickedCapture";
export { capturesStation } from "./station";
