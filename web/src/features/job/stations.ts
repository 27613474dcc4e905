/** The route of a job: stations in the order of work. */
export type StationId =
  | "complaint"
  | "look"
  | "hook-up"
  | "captures"
  | "seal"
  | "phase"
  | "cylinder"
  | "call"
  | "hand-over";

export type Station = { id: StationId; number: number; name: string; built: boolean; about: string };

const ORDER: [StationId, string, boolean, string][] = [
  ["complaint", "Complaint", true, ""],
  ["look", "Look and listen", true, ""],
  ["hook-up", "Hook-up", false, "which channel goes where, how fast to record, and what to watch for"],
  ["captures", "Captures", true, ""],
  ["seal", "Seal", true, ""],
  ["phase", "Phase", true, ""],
  ["cylinder", "Cylinder", false, "valve corners and true TDC from the pressure in one cylinder"],
  ["call", "Call", true, ""],
  ["hand-over", "Hand-over", false, "the report for the customer and for the next shift"],
];

export const STATIONS: Station[] = ORDER.map(([id, name, built, about], i) => ({ id, number: i + 1, name, built, about }));
