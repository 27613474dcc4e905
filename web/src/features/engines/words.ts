/** Words of the profile form that several of its parts use. */
export const SENSORS = [
  ["hall", "Hall"],
  ["optical", "optical"],
  ["vr", "inductive"],
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
