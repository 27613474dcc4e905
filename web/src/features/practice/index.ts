export { AskTheCar } from "./AskTheCar";
export { FreeBenchPage } from "./bench/FreeBenchPage";
export { LessonPage } from "./LessonPage";
export { PracticePage } from "./PracticePage";
export { PracticePanel } from "./PracticePanel";
export { YourCall } from "./YourCall";
