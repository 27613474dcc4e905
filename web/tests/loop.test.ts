/** The run of a chain round its sprockets. */
import { expect, it } from "vitest";

import { hullOf, loopPath } from "../src/features/engines/drawing/loop";

const pointsOf = (path: string) => (path.match(/-?[\d.]+ -?[\d.]+/g) ?? []).map((p) => p.split(" ").map(Number) as [number, number]);

it("touches every sprocket and lies inside none", () => {
  const sprockets = [
    { x: 0, y: 100, r: 20 },
    { x: -60, y: 0, r: 30 },
    { x: 60, y: 0, r: 30 },
  ];
  const points = pointsOf(loopPath(sprockets));
  for (const { x, y, r } of sprockets) {
    const distances = points.map(([px, py]) => Math.hypot(px - x, py - y));
    expect(Math.min(...distances)).toBeCloseTo(r, 0);
    expect(Math.min(...distances)).toBeGreaterThan(r - 0.2);
  }
});

it("is one loop without crossings: it turns one way all round", () => {
  const hull = hullOf(pointsOf(loopPath([{ x: 0, y: 0, r: 10 }, { x: 50, y: 5, r: 18 }, { x: 30, y: 60, r: 12 }])));
  const turns = hull.map((b, i) => {
    const a = hull.at(i - 1) ?? b;
    const c = hull[(i + 1) % hull.length] ?? b;
    return Math.sign((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]));
  });
  expect(new Set(turns).size).toBe(1);
});

it("is nothing without sprockets", () => {
  expect(loopPath([])).toBe("");
});
