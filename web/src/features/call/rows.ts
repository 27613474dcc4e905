/** Which explanations and which kinds of evidence the table shows. */
import type { Schemas } from "../../api/client";

type Verdict = Schemas["Verdict"];
type Fault = Schemas["FaultResult"];

const MOST_ROWS = 7;

/** Names of one or two words for the columns; what is not listed keeps its title. */
const SHORT: Record<string, string> = {
  cam_phase: "Cam signals",
  edge_spacing: "Spacing",
  index: "Pistons",
  corners: "Valves",
  levels: "Level",
  compression: "Cylinders",
  hump_count: "Humps",
  compression_size: "Size",
  spark: "Spark",
  spark_withheld: "Spark there",
  signals: "Signals",
  changes: "Steps",
  manifold: "Manifold",
  pulses: "Pulses",
  marks: "Marks",
  gauge: "Gauge",
  leak_down: "Leak-down",
  looks: "Looks",
  road: "Road",
  codes: "Codes",
  history: "History",
};

/** What an engine's call rests on in the end; shown as empty columns while they are missing. */
const WANTED = ["cam_phase", "index", "corners", "compression", "marks"];

export type Column = { kind: string; name: string; without: Schemas["WithoutKind"] | null };

/** The explanations in the order of their chance; none of the rare ones, but always the one that is left. */
export function tableRows(verdict: Verdict): Fault[] {
  const exclusive = verdict.faults.filter((fault) => !fault.besides);
  const shown = exclusive.filter((fault, i) => i < 3 || (i < MOST_ROWS && fault.probability >= 0.001));
  const left = exclusive.filter((fault) => fault.fault === "something_else" && !shown.includes(fault));
  return [...shown, ...left];
}

/** Every kind that said anything about a row, and the wanted ones that are missing. */
export function tableColumns(verdict: Verdict, rows: readonly Fault[]): Column[] {
  const spoke = new Set(rows.flatMap((row) => (row.evidence ?? []).map((one) => one.kind)));
  const seen = (verdict.without ?? [])
    .filter((one) => spoke.has(one.kind) || WANTED.includes(one.kind))
    .map((one) => ({ kind: one.kind, name: SHORT[one.kind] ?? one.title, without: one }));
  const known = new Set((verdict.without ?? []).map((one) => one.kind));
  const missing = WANTED.filter((kind) => !known.has(kind)).map((kind) => ({
    kind,
    name: SHORT[kind] ?? kind,
    without: null,
  }));
  return [...seen, ...missing];
}

export function weightOf(fault: Fault, kind: string): number | null {
  return (fault.evidence ?? []).find((one) => one.kind === kind)?.bits ?? null;
}
