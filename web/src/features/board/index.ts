export { BoardPage } from "./BoardPage";
export { BoardRow } from "./BoardRow";
