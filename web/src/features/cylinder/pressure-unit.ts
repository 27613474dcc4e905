/** In which unit pressures read on this screen; files stay in bar. */
import { useState } from "react";

export type PressureUnit = "bar" | "psi";
const KEY = "phasko-pressure-unit";
/** One bar in pounds per square inch: NIST Special Publication 811, appendix B.8. */
const PSI_PER_BAR = 14.503774;

export function usePressureUnit(): [PressureUnit, (unit: PressureUnit) => void] {
  const [unit, setUnit] = useState<PressureUnit>(() => (localStorage.getItem(KEY) === "psi" ? "psi" : "bar"));
  const keep = (picked: PressureUnit) => {
    localStorage.setItem(KEY, picked);
    setUnit(picked);
  };
  return [unit, keep];
}

export function inUnit(bar: number, unit: PressureUnit): number {
  return unit === "psi" ? bar * PSI_PER_BAR : bar;
}

/** "14.0 ± 0.3 bar" */
export function pressureWithHalf(bar: number, half: number, unit: PressureUnit): string {
  const digits = unit === "psi" ? 0 : 1;
  return `${inUnit(bar, unit).toFixed(digits)} ± ${inUnit(half, unit).toFixed(unit === "psi" ? 0 : half < 0.1 ? 2 : 1)} ${unit}`;
}

/** "11.7 bar", "170 psi"; small ones in mbar or tenths of a psi. */
export function pressureWords(bar: number, unit: PressureUnit): string {
  if (unit === "psi") return `${inUnit(bar, unit).toFixed(Math.abs(bar) < 1 ? 1 : 0)} psi`;
  return Math.abs(bar) < 0.5 ? `${(1000 * bar).toFixed(0)} mbar` : `${bar.toFixed(1)} bar`;
}
