/** The hook-up in words. */
import type { Schemas } from "../../api/client";
import { lowerFirst, upperFirst } from "../../ui";

type Page = Schemas["HookUpPage"];
const COUNTS = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight"];

type Lead = Schemas["LeadOut"];

export function planHeadline(page: Page): string {
  const most = Math.max(...page.rounds.map((round) => round.length));
  const rounds = page.rounds.length > 1 ? ` in ${COUNTS[page.rounds.length] ?? String(page.rounds.length)} rounds` : "";
  const title = lowerFirst(page.question.title);
  return upperFirst(`${COUNTS[most] ?? String(most)} ${most === 1 ? "lead" : "leads"}${rounds}: ${title}`);
}

export function rateWords(rate: number): string {
  return rate >= 1e6 ? `${String(rate / 1e6)} MS/s` : `${String(rate / 1e3)} kS/s`;
}

export function lengthWords(seconds: number): string {
  return seconds >= 120 ? `${String(Math.round(seconds / 60))} minutes` : `${String(seconds)} s`;
}

/** Rate, length, and what one sample is in crank degrees. */
export function recordingWords(page: Page): string {
  const { rate_hz, length_s, sample_deg, rpm } = page.recording;
  const sample = sample_deg === null || rpm === null ? "" : `; one sample is ${sample_deg.toFixed(sample_deg < 0.1 ? 3 : 2)}° of the crank at ${rpm.toFixed(0)} rpm`;
  return `${rateWords(rate_hz)}, ${lengthWords(length_s)}${sample}. ${page.repeat}.`;
}

export function voltWords(rangeV: number): string {
  return rangeV >= 1 ? `± ${String(rangeV)} V` : `± ${String(Math.round(rangeV * 1000))} mV`;
}

export function couplingWords(lead: Lead): string {
  return `${lead.coupling === "ac" ? "AC" : "DC"}${lead.attenuator > 1 ? `, behind ${String(lead.attenuator)}:1` : ""}`;
}

export function rangeWords(lead: Lead): string {
  return `${voltWords(lead.range_v)}, ${couplingWords(lead)}`;
}

export function placeWords(lead: Lead): string {
  return lead.at === "control_unit" ? "at the control unit" : "";
}

export function wireWords(lead: Lead): string {
  const wire = lead.wire;
  return wire ? [wire.pin ? `pin ${wire.pin}` : "", wire.colour].filter(Boolean).join(" ") : "";
}
