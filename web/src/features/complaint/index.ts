export { complaintStation } from "./station";
