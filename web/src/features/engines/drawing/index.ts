export { DriveDrawing } from "./DriveDrawing";
export { FiringDrawing } from "./FiringDrawing";
export { WheelDrawings } from "./WheelDrawing";
