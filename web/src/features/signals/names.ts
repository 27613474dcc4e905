/** What a lane is called and which colour its kind of signal has. */
type Named = { role: string; cam: string | null; column: string };

const COLORS: Record<string, string> = {
  crank: "crank",
  aux: "crank",
  starter_current: "current",
  battery_voltage: "current",
  cylinder_pressure: "pressure",
  intake_pulse: "pressure",
  exhaust_pulse: "pressure",
  crankcase_pulse: "pressure",
  coil: "coil",
  injector: "coil",
};

export const ROLE_NAMES: Record<string, string> = {
  crank: "Crank",
  aux: "Further wheel",
  cam: "Cam",
  coil: "Coil",
  injector: "Injector",
  starter_current: "Starter current",
  battery_voltage: "Battery",
  cylinder_pressure: "Pressure",
  intake_pulse: "Intake pulses",
  exhaust_pulse: "Exhaust pulses",
  crankcase_pulse: "Crankcase pulses",
  phaser_command: "Phaser command",
  other: "Not used",
};

export function laneName(channel: Named): string {
  if (channel.role === "other") return channel.column;
  if (channel.cam) return channel.cam;
  return ROLE_NAMES[channel.role] ?? channel.role;
}

export function laneColor(channel: Named): string {
  if (channel.role === "cam") return /E$|exh/i.test(channel.cam ?? "") ? "exhaust" : "intake";
  return COLORS[channel.role] ?? "mute";
}
