export { OlderCall } from "./OlderCall";
export { UpdateNote } from "./UpdateNote";
export { UpdatesPage } from "./UpdatesPage";
