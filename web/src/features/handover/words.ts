/** The words of the hand-over: pages, papers, repair and closing. */
import type { Schemas } from "../../api/client";
import type { PageKind, Paper } from "../../api/closing-queries";

export type Repair = Schemas["Repair"];
export type Found = NonNullable<Repair["found"]>[number];
export type Closing = NonNullable<Schemas["JobDocument"]["closing"]>;

type Words<T extends string> = readonly { value: T; text: string }[];

export const PAGES: Words<PageKind> = [
  { value: "full", text: "The document" },
  { value: "first", text: "First word" },
  { value: "owner", text: "For the owner" },
];

export const PAPERS: Words<Paper> = [
  { value: "A4", text: "A4" },
  { value: "letter", text: "Letter" },
];

export const SHOWN = [
  { value: "pages", text: "Pages" },
  { value: "repair", text: "Repair and proof" },
  { value: "close", text: "Close the job" },
] as const;
export type Shown = (typeof SHOWN)[number]["value"];

export const INSULATION: Words<"closed" | "not_pierced" | "open" | "unknown"> = [
  { value: "unknown", text: "Not said" },
  { value: "closed", text: "Closed again" },
  { value: "not_pierced", text: "Nothing pierced" },
  { value: "open", text: "Still open" },
];

export const YES_NO: Words<"unknown" | "yes" | "no"> = [
  { value: "unknown", text: "Not said" },
  { value: "yes", text: "Yes" },
  { value: "no", text: "No" },
];

export const SYMPTOM_NOW: Words<"unknown" | "gone" | "there"> = [
  { value: "unknown", text: "Not tried" },
  { value: "gone", text: "Gone" },
  { value: "there", text: "Still there" },
];

export const CAUSES: Words<Closing["cause"]> = [
  { value: "confirmed", text: "Confirmed" },
  { value: "refuted", text: "Refuted" },
  { value: "unknown", text: "Not known" },
];

export const CAUSE_WORDS: Record<Closing["cause"], string> = {
  confirmed: "what was called is what was found",
  refuted: "something else was found: the call was wrong",
  unknown: "nobody could see it, or nobody looked",
};

export function yesNo(value: boolean | null | undefined): "unknown" | "yes" | "no" {
  return value === true ? "yes" : value === false ? "no" : "unknown";
}

export function fromYesNo(value: string): boolean | null {
  return value === "yes" ? true : value === "no" ? false : null;
}

/** A moment as the day that a date field shows; empty where there is none. */
export function dayOf(moment: string | null | undefined): string {
  return moment ? moment.slice(0, 10) : "";
}

/** A day as a moment, at noon: no zone makes another day of it. */
export function momentOf(day: string): string | null {
  return /^\d{4}-\d{2}-\d{2}$/.test(day) ? `${day}T12:00:00+00:00` : null;
}
