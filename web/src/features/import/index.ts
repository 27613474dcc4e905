export { ImportSheet } from "./ImportSheet";
