export { PhotoStrip } from "./PhotoStrip";
