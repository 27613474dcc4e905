/** Pressures in the unit that was picked; files and documents stay in bar. */
import { type PressureUnit, setPreference, usePreferences } from "./preferences";

/** How many of a unit one bar is. psi: NIST Special Publication 811, appendix B.8. */
const PER_BAR: Record<PressureUnit, number> = { bar: 1, psi: 14.503774, kPa: 100 };

export const PRESSURE_UNITS: readonly { value: PressureUnit; text: string }[] = [
  { value: "bar", text: "bar" },
  { value: "psi", text: "psi" },
  { value: "kPa", text: "kPa" },
];

export function usePressureUnit(): [PressureUnit, (unit: PressureUnit) => void] {
  return [usePreferences().pressure, (unit) => setPreference("pressure", unit)];
}

export function nextPressureUnit(unit: PressureUnit): PressureUnit {
  const at = PRESSURE_UNITS.findIndex((one) => one.value === unit);
  return PRESSURE_UNITS[(at + 1) % PRESSURE_UNITS.length]?.value ?? "bar";
}

export function inUnit(bar: number, unit: PressureUnit): number {
  return bar * PER_BAR[unit];
}

export function inBar(value: number, unit: PressureUnit): number {
  return value / PER_BAR[unit];
}

/** Digits that show a tenth of a bar in that unit, or as near as whole ones come. */
export function pressureFigure(bar: number, unit: PressureUnit): string {
  return inUnit(bar, unit).toFixed(unit === "bar" ? 1 : 0);
}

/** "14.0 ± 0.3 bar" */
export function pressureWithHalf(bar: number, half: number, unit: PressureUnit): string {
  const halfDigits = unit === "bar" ? (half < 0.1 ? 2 : 1) : 0;
  return `${pressureFigure(bar, unit)} ± ${inUnit(half, unit).toFixed(halfDigits)} ${unit}`;
}

/** "11.7 bar", "170 psi"; small ones in mbar, tenths of a psi or of a kPa. */
export function pressureWords(bar: number, unit: PressureUnit): string {
  if (unit === "bar" && Math.abs(bar) < 0.5) return `${(1000 * bar).toFixed(0)} mbar`;
  if (Math.abs(bar) < 0.5) return `${inUnit(bar, unit).toFixed(1)} ${unit}`;
  return `${pressureFigure(bar, unit)} ${unit}`;
}
