/** By which limit it is judged how far is too far. */
export type School = "mark" | "maker" | "codes";

export const SCHOOLS: { value: School; text: string }[] = [
  { value: "mark", text: "Half to one degree at the mark" },
  { value: "maker", text: "The maker's limit" },
  { value: "codes", text: "Only when codes set" },
];
