/** Angles on a drawn wheel: the sensor is on top, the wheel turns clockwise, so what passes later stands before it. */
export type Arc = { from_deg: number; to_deg: number };

export function pointAt(deg: number, turnDeg: number, radius: number): [number, number] {
  const angle = (-2 * Math.PI * deg) / turnDeg;
  return [radius * Math.sin(angle), -radius * Math.cos(angle)];
}

/** The sector between two radii, from one angle to another. */
export function sector(arc: Arc, turnDeg: number, inner: number, outer: number): string {
  const large = (arc.to_deg - arc.from_deg) / turnDeg > 0.5 ? 1 : 0;
  const [a, b, c, d] = [
    pointAt(arc.from_deg, turnDeg, outer),
    pointAt(arc.to_deg, turnDeg, outer),
    pointAt(arc.to_deg, turnDeg, inner),
    pointAt(arc.from_deg, turnDeg, inner),
  ].map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`);
  const [o, i] = [outer, inner].map((r) => `${r.toFixed(2)} ${r.toFixed(2)} 0 ${String(large)}`);
  return `M${a ?? ""}A${o ?? ""} 0 ${b ?? ""}L${c ?? ""}A${i ?? ""} 1 ${d ?? ""}Z`;
}
