/** The recording in words and colours. */
import type { Schemas } from "../../api/client";

type Lane = Schemas["LaneView"];

export type Said = Schemas["EngineSaid"];

export const STATES = {
  condition: [
    { value: "", text: "state not said" },
    { value: "cranking", text: "cranking" },
    { value: "idle", text: "idle" },
    { value: "running", text: "running" },
    { value: "bench", text: "on the stand" },
  ],
  temperature: [
    { value: "unknown", text: "cold or hot?" },
    { value: "cold", text: "cold" },
    { value: "hot", text: "hot" },
  ],
  phasers: [
    { value: "unknown", text: "phasers?" },
    { value: "unplugged", text: "phasers unplugged" },
    { value: "parked", text: "phasers parked" },
    { value: "active", text: "phasers active" },
    { value: "sweep", text: "phaser driven" },
  ],
  throttle: [
    { value: "unknown", text: "throttle?" },
    { value: "open", text: "throttle open" },
    { value: "closed", text: "throttle closed" },
  ],
  symptom: [
    { value: "unknown", text: "symptom?" },
    { value: "present", text: "symptom there" },
    { value: "absent", text: "symptom not there" },
  ],
  repair: [
    { value: "", text: "before any repair" },
    { value: "before", text: "before the repair" },
    { value: "after", text: "after the repair" },
  ],
} as const;

const COLOURS: Record<string, string> = {
  crank: "crank",
  aux: "crank",
  coil: "coil",
  injector: "coil",
  starter_current: "current",
  battery_voltage: "current",
  cylinder_pressure: "pressure",
};

export function laneColour(lane: Lane): string {
  if (lane.role === "cam") return lane.shaft === "exhaust" ? "exhaust" : "intake";
  return COLOURS[lane.role] ?? "crank";
}

export function signed(value: number | null | undefined): string {
  if (value === null || value === undefined) return "–";
  return `${Math.abs(value).toFixed(1)}°${Math.abs(value) < 0.05 ? "" : value > 0 ? " late" : " early"}`;
}
