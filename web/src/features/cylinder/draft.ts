/** One corner as a loupe shows it: found, set by hand, or about to be set. */
import type { Schemas } from "../../api/client";

export type Draft = {
  valve: "intake" | "exhaust";
  what: "opens" | "closes";
  angle_deg: number;
  strip_deg: number;
  profile_deg: number;
  profile_strip_deg: number | null;
  u95_deg: number;
  bar: number;
  byHand: boolean;
};

type Place = Schemas["ProfileCorner"];

export function nameOf(corner: { valve: string; what: string }): string {
  return `${corner.valve === "intake" ? "Intake" : "Exhaust"} ${corner.what}`;
}

/** Where a mark begins: the corner that stands there now, else where the profile has it. */
export function draftOf(one: Schemas["FeltView"], place: Place, handU95Deg: number): Draft {
  const now = one.corners.find((c) => c.valve === place.valve && c.what === place.what);
  return draftAt(one, place, now ? now.angle_deg : place.angle_deg, handU95Deg);
}

export function draftAt(one: Schemas["FeltView"], place: Place, angleDeg: number, handU95Deg: number): Draft {
  const now = one.corners.find((c) => c.valve === place.valve && c.what === place.what);
  const strip = wrapped(place.strip_deg + angleDeg - place.angle_deg, one);
  return {
    valve: place.valve,
    what: place.what,
    angle_deg: angleDeg,
    strip_deg: strip,
    profile_deg: place.angle_deg,
    profile_strip_deg: place.strip_deg,
    u95_deg: handU95Deg,
    bar: barAt(one, strip),
    byHand: now?.by_hand ?? false,
  };
}

/** On the strip, which begins where its curve does. */
function wrapped(stripDeg: number, one: Schemas["FeltView"]): number {
  const origin = Math.floor(one.mean.deg[0] ?? 0);
  return origin + ((((stripDeg - origin) % 720) + 720) % 720);
}

export function barAt(one: Schemas["FeltView"], stripDeg: number): number {
  const { deg, bar } = one.mean;
  const after = deg.findIndex((d) => d >= stripDeg);
  if (after <= 0) return bar[after === 0 ? 0 : bar.length - 1] ?? 0;
  const [a, b] = [deg[after - 1] ?? 0, deg[after] ?? 0];
  const share = b > a ? (stripDeg - a) / (b - a) : 0;
  return (bar[after - 1] ?? 0) * (1 - share) + (bar[after] ?? 0) * share;
}

/** The same corner as found or kept. */
export function draftOfMark(mark: Schemas["CornerMark"]): Draft {
  return {
    valve: mark.valve,
    what: mark.what,
    angle_deg: mark.angle_deg,
    strip_deg: mark.strip_deg,
    profile_deg: mark.profile_deg ?? mark.angle_deg,
    profile_strip_deg: mark.profile_strip_deg,
    u95_deg: mark.u95_deg,
    bar: mark.bar,
    byHand: mark.by_hand,
  };
}
