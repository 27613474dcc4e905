/** The run of a chain or belt round its sprockets: one closed line that touches each and crosses nothing. No framework. */
export type Sprocket = { x: number; y: number; r: number };

const ROUND = 64;

/** The path round all sprockets, as a taut loop lies: the convex hull of their circles. */
export function loopPath(sprockets: readonly Sprocket[]): string {
  const points = sprockets.flatMap(({ x, y, r }) =>
    Array.from({ length: ROUND }, (_, k): Point => [x + r * Math.cos((2 * Math.PI * k) / ROUND), y + r * Math.sin((2 * Math.PI * k) / ROUND)]),
  );
  const hull = hullOf(points);
  return hull.length ? `M${hull.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L")}Z` : "";
}

type Point = [number, number];

/** Andrew's monotone chain (Inf. Proc. Letters 9, 1979, 216; from memory). */
export function hullOf(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (from: readonly Point[]) => {
    const found: Point[] = [];
    for (const point of from) {
      while (found.length > 1 && turn(found.at(-2), found.at(-1), point) <= 0) found.pop();
      found.push(point);
    }
    return found.slice(0, -1);
  };
  return sorted.length < 3 ? sorted : [...half(sorted), ...half(sorted.reverse())];
}

function turn(a: Point | undefined, b: Point | undefined, c: Point): number {
  return a && b ? (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) : 0;
}
