export { sealStation } from "./station";
