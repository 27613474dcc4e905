export { lookStation } from "./station";
