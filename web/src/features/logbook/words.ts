/** The words of the filters. */

export const STATE = [
  { value: "every", text: "Open and closed" },
  { value: "open", text: "Open" },
  { value: "closed", text: "Closed" },
] as const;

export const GATE = [
  { value: "", text: "Every call" },
  { value: "go", text: "Open up" },
  { value: "confirm_first", text: "Confirm first" },
  { value: "no", text: "Covers stay on" },
] as const;

export const CAUSE = [
  { value: "", text: "Every cause" },
  { value: "confirmed", text: "Confirmed" },
  { value: "refuted", text: "Refuted" },
  { value: "unknown", text: "Not known" },
] as const;

export function dayWords(moment: string | null | undefined): string {
  return moment ? new Date(moment).toLocaleDateString([], { day: "numeric", month: "short", year: "numeric" }) : "";
}

export function inHundred(share: number): string {
  return `${(100 * share).toFixed(0)} in 100`;
}
