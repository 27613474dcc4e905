/** A polyline through points; `null` values interrupt it. */
import { line } from "d3-shape";

export function curvePath(values: readonly (number | null)[], x: (i: number) => number, y: (v: number) => number): string {
  const drawn = line<number | null>()
    .digits(1)
    .defined((v) => v !== null)
    .x((_, i) => x(i))
    .y((v) => y(v ?? 0));
  return drawn(values) ?? "";
}
