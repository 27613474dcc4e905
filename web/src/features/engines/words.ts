/** Words of the profile form that several of its parts use. */
export const SENSORS = [
  ["hall", "Hall"],
  ["optical", "optical"],
  ["vr", "inductive"],
  ["unknown", "not known: the signal shows it"],
] as const;

export const EDGES = [
  ["falling", "falling"],
  ["rising", "rising"],
] as const;

export const SHAFTS = [
  ["intake", "intake"],
  ["exhaust", "exhaust"],
  ["single", "the only cam"],
] as const;

/** Failures that a type of engine may be known for. */
export const FAILURES = [
  ["chain_jumped", "chain or belt jumps"],
  ["chain_stretched", "chain stretches"],
  ["tensioner_slack", "tensioner goes slack"],
  ["drive_broken", "chain or belt breaks"],
  ["cam_slipped", "a cam turns on its sprocket"],
  ["crank_sprocket_slipped", "crank sprocket turns"],
  ["crank_hub_slipped", "crank hub turns, its wheel with it"],
  ["phaser_off_park", "phaser rests off its park"],
  ["cam_signal_shifted", "cam signal wheel moves"],
  ["crank_signal_shifted", "crank signal wheel moves"],
  ["sync_misadjusted", "distributor or sync drive off"],
  ["cam_sensor_fault", "cam sensor fails"],
  ["crank_sensor_fault", "crank sensor fails"],
  ["induced_pulses", "pulses get into a sensor's wires"],
  ["weak_cylinder", "a cylinder stops sealing"],
  ["valve_train", "a lobe, spring or valve fails"],
  ["exhaust_restricted", "exhaust blocks"],
  ["intake_restricted", "intake blocks"],
  ["ignition_mistimed", "spark at the wrong time"],
] as const;
