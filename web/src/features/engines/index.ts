export { DriveDrawing } from "./drawing";
export { EnginePage } from "./EnginePage";
export { EnginesPage } from "./EnginesPage";
export { ImportProfile } from "./ImportProfile";
