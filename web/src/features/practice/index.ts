export { AskTheCar } from "./AskTheCar";
export { LessonPage } from "./LessonPage";
export { PracticePage } from "./PracticePage";
export { PracticePanel } from "./PracticePanel";
export { YourCall } from "./YourCall";
