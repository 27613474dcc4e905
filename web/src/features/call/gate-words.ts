import type { Schemas } from "../../api/client";

/** What must be read from a metre away. */
export const GATE_WORDS: Record<Schemas["Verdict"]["teardown"], string> = {
  no: "Covers stay on",
  confirm_first: "Confirm first",
  go: "Open up",
};
