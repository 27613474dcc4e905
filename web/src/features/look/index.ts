export { LookStation } from "./LookStation";
