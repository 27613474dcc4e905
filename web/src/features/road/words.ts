/** Figures of a road test as people read them. */
import type { Schemas } from "../../api/client";

type Result = Schemas["RoadTestResult"];

export type Figure = { name: string; value: string; beside: string };

/** Peak load, volumetric efficiency, trims and manifold, each with its half width; what is missing is left out. */
export function figures(result: Result): Figure[] {
  const found: Figure[] = [];
  const at = (rpm: number | null | undefined) => (typeof rpm === "number" ? `at ${String(Math.round(rpm / 50) * 50)} rpm` : "");
  if (result.peak_load_percent !== null)
    found.push({
      name: "Peak calculated load",
      value: `${result.peak_load_percent.toFixed(0)} ± ${(result.peak_load_u95_percent ?? 0).toFixed(0)} %`,
      beside: at(result.peak_load_rpm),
    });
  if (result.volumetric_efficiency !== null)
    found.push({
      name: "Volumetric efficiency",
      value: `${(100 * result.volumetric_efficiency).toFixed(0)} ± ${(100 * (result.volumetric_efficiency_u95 ?? 0)).toFixed(0)} %`,
      beside: at(result.volumetric_efficiency_rpm),
    });
  if (result.trims_percent !== null)
    found.push({
      name: "Trims at part load",
      value: `${signed(result.trims_percent)} ± ${(result.trims_u95_percent ?? 0).toFixed(0)} %`,
      beside: "short and long together",
    });
  if (result.manifold_drop_kpa !== null)
    found.push({
      name: "Manifold at full throttle",
      value: `${Math.abs(result.manifold_drop_kpa).toFixed(0)} kPa ${result.manifold_drop_kpa >= 0 ? "under" : "over"}`,
      beside: "the outside",
    });
  return found;
}

function signed(value: number): string {
  const whole = Math.round(Math.abs(value));
  return whole === 0 ? "0" : `${value < 0 ? "−" : "+"}${String(whole)}`;
}
