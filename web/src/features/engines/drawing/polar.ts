/** Angles on a drawn wheel: the sensor is on top, the wheel turns clockwise, so what passes later stands before it. */
import { arc, pointRadial } from "d3-shape";

export type Arc = { from_deg: number; to_deg: number };

const angleOf = (deg: number, turnDeg: number) => (-2 * Math.PI * deg) / turnDeg;

export function pointAt(deg: number, turnDeg: number, radius: number): [number, number] {
  return pointRadial(angleOf(deg, turnDeg), radius);
}

/** The sector between two radii, from one angle to another. */
export function sector(span: Arc, turnDeg: number, inner: number, outer: number): string {
  const drawn = arc().digits(2)({
    innerRadius: inner,
    outerRadius: outer,
    startAngle: angleOf(span.from_deg, turnDeg),
    endAngle: angleOf(span.to_deg, turnDeg),
  });
  return drawn ?? "";
}
