export { LearningPage } from "./LearningPage";
export { LogbookPage } from "./LogbookPage";
export { TimelinePage } from "./TimelinePage";
