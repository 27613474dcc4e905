export { handOverStation } from "./station";
