export { WhyMark } from "./WhyMark";
