/** Numbers as people read them. Rounding follows the uncertainty, the sign is a word. */

/** Decimals that an uncertainty in degrees carries: none from ± 3 up, else one. */
function decimals(u95: number): number {
  return u95 >= 3 ? 0 : 1;
}

export function sized(value: number, u95 = 0.5): string {
  return `${Math.abs(value).toFixed(decimals(u95))}°`;
}

/** "late", "early", or nothing for what rounds to zero. */
export function signWord(value: number, u95 = 0.5): string {
  if (Number(Math.abs(value).toFixed(decimals(u95))) === 0) return "";
  return value > 0 ? "late" : "early";
}

/** "17.1° late" */
export function offsetWords(value: number, u95 = 0.5): string {
  return `${sized(value, u95)} ${signWord(value, u95)}`.trim();
}

export function plusMinus(u95: number): string {
  if (u95 >= 3) return `± ${u95.toFixed(0)}`;
  return `± ${u95 >= 0.095 ? u95.toFixed(1) : Math.max(u95, 0.01).toFixed(2)}`;
}

/** A probability as a person says it: never 0 or 100. */
export function percent(probability: number): string {
  if (probability < 0.01) return "under 1%";
  if (probability > 0.99) return "over 99%";
  return `${(100 * probability).toFixed(0)}%`;
}

export function upperFirst(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

/** What the gate says, wherever it stands. */
export const GATE_WORDS = { go: "open up", confirm_first: "confirm first", no: "covers stay on" } as const;

/** A measured figure with three digits and never as a power of ten: 14000, 212, 3.41. */
export function figure(value: number): string {
  if (value === 0) return "0";
  const digits = Math.max(0, 2 - Math.floor(Math.log10(Math.abs(value))));
  return digits > 6 ? "0" : String(Number(value.toFixed(digits)));
}

/** A change with its half width, in the figure's own unit; without a number only whether it changed. */
export function changeWords(row: { by: number | null; u95: number | null; unit: string; real: boolean }): string {
  if (row.by === null) return row.real ? "changed" : "alike";
  const unit = row.unit === "°" ? "°" : ` ${row.unit}`;
  return `${row.by > 0 ? "+" : "−"}${Math.abs(row.by).toFixed(1)} ± ${(row.u95 ?? 0).toFixed(1)}${unit}${row.real ? "" : ", alike"}`;
}

/** An offset with its half width, both with as many digits as the half width has: a drift is small. */
export function withHalf({ value, u95 }: { value: number; u95: number }): string {
  const digits = u95 >= 3 ? 0 : u95 >= 0.095 ? 1 : 2;
  return `${Math.abs(value).toFixed(digits)} ${plusMinus(u95)}° ${Number(value.toFixed(digits)) === 0 ? "" : signWord(value, 0.01)}`.trim();
}
