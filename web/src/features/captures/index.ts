export { CapturesStation } from "./CapturesStation";
