export { GlossarySheet } from "./GlossarySheet";
