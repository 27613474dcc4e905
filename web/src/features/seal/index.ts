export { SealStation } from "./SealStation";
