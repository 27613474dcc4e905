export { HookUpPrintPage } from "./PrintPage";
export { hookUpStation } from "./station";
