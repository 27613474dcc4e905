/** The sheet as a form: what a person says each channel is. No framework. */
import type { Schemas } from "../../api/client";

export type Sheet = Schemas["ImportSheet"];
export type Channel = Schemas["ChannelSheet"];
export type Setup = Schemas["CaptureSetup"];
export type ChannelSetup = Schemas["ChannelSetup"];
export type Role = ChannelSetup["role"];

export const ROLES: readonly Role[] = [
  "crank",
  "cam",
  "aux",
  "starter_current",
  "battery_voltage",
  "cylinder_pressure",
  "coil",
  "injector",
  "intake_pulse",
  "exhaust_pulse",
  "crankcase_pulse",
  "phaser_command",
  "other",
];

type State = Pick<Setup, "condition" | "phasers" | "temperature" | "throttle" | "symptom" | "repair">;
export const STATE: readonly { key: keyof State; label: string; options: readonly string[] }[] = [
  { key: "condition", label: "Condition", options: ["cranking", "idle", "running", "snap", "bench", "mixed"] },
  { key: "phasers", label: "Phasers", options: ["unknown", "parked", "unplugged", "active", "sweep"] },
  { key: "throttle", label: "Throttle", options: ["unknown", "open", "closed"] },
  { key: "temperature", label: "Engine", options: ["unknown", "cold", "hot"] },
  { key: "symptom", label: "Symptom", options: ["unknown", "present", "absent"] },
  { key: "repair", label: "Recorded", options: ["before", "after"] },
];

/** Options that say more than their own word. */
export const OPTION_WORDS: Readonly<Record<string, string>> = {
  unknown: "not said",
  before: "before any repair",
  after: "after the repair",
};

/** The form as the capture is described now. */
export function setupOf(sheet: Sheet, presets: Schemas["ScalePreset"][]): Setup {
  const capture = sheet.capture;
  return {
    condition: capture.condition as NonNullable<Setup["condition"]> | null,
    phasers: capture.phasers as NonNullable<Setup["phasers"]>,
    temperature: capture.temperature as NonNullable<Setup["temperature"]>,
    throttle: capture.throttle as NonNullable<Setup["throttle"]>,
    symptom: capture.symptom as NonNullable<Setup["symptom"]>,
    repair: capture.repair as NonNullable<Setup["repair"]>,
    channels: sheet.channels.map(({ description: d, asks_cylinder }) => ({
      column: d.column,
      role: d.role,
      cam: d.cam ?? null,
      wheel: d.wheel ?? null,
      // What only stands there since something must is asked for.
      cylinder: asks_cylinder ? null : (d.cylinder ?? null),
      signal: d.signal ?? null,
      coupling: d.coupling,
      reference: d.reference ?? null,
      driven: d.driven ?? null,
      scale: scaleOf(d, presets),
      zero: 0,
      turned: false,
    })),
  };
}

/** The scale as a usual clamp or transducer where it is one. */
function scaleOf(d: Channel["description"], presets: Schemas["ScalePreset"][]): NonNullable<ChannelSetup["scale"]> | null {
  if (d.scale === 1 && d.offset === 0 && !d.scaled_unit) return null;
  const usual = presets.find((p) => p.role === d.role && p.scale === d.scale && p.offset === d.offset && p.unit === d.scaled_unit);
  if (usual) return { kind: "preset", id: usual.id };
  return { kind: "line", scale: d.scale, offset: d.offset, unit: d.scaled_unit ?? d.unit };
}

/** A role with what completes it, the first that is left where there is a choice. */
export function withRole(setup: Setup, column: string, role: Role, sheet: Sheet): Setup {
  const taken = new Set(setup.channels.filter((c) => c.column !== column).map((c) => c.cam ?? c.wheel));
  const free = (ids: string[]) => ids.find((id) => !taken.has(id)) ?? ids[0] ?? null;
  return changedChannel(setup, column, {
    role,
    cam: role === "cam" || role === "phaser_command" ? (free(sheet.cams.map((cam) => cam.id)) ?? "CAM") : null,
    wheel: role === "aux" ? (free(sheet.wheels) ?? "A1") : null,
    cylinder: role === "cylinder_pressure" && sheet.cylinders === 1 ? 1 : null,
    reference: role === "cylinder_pressure" ? "gauge" : null,
    scale: null,
  });
}

/** The first pressure whose cylinder nobody has said. */
export function withoutCylinder(setup: Setup): string | null {
  return setup.channels.find((c) => c.role === "cylinder_pressure" && !c.cylinder)?.column ?? null;
}

export function changedChannel(setup: Setup, column: string, change: Partial<ChannelSetup>): Setup {
  return { ...setup, channels: setup.channels.map((c) => (c.column === column ? { ...c, ...change } : c)) };
}

/** What makes a channel's values so many times what they are; a change of sign alone turns the clamp round. */
export function multiplied(own: ChannelSetup, factor: number, unit: string, presets: Schemas["ScalePreset"][]): Partial<ChannelSetup> {
  if (factor === -1) return { turned: !own.turned };
  const scale = own.scale;
  if (scale?.kind === "two_points") return { scale: { ...scale, value_1: scale.value_1 * factor, value_2: scale.value_2 * factor } };
  const preset = scale?.kind === "preset" ? presets.find((p) => p.id === scale.id) : undefined;
  const now = scale?.kind === "line" ? scale : (preset ?? { scale: 1, offset: 0, unit });
  return { scale: { kind: "line", scale: now.scale * factor, offset: now.offset * factor, unit: now.unit } };
}
