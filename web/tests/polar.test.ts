/** Wheels as they are drawn: the sensor on top, turning clockwise. */
import { expect, it } from "vitest";

import { pointAt, sector } from "../src/features/engines/drawing/polar";

const near = (point: [number, number], x: number, y: number) => {
  expect(point[0]).toBeCloseTo(x, 9);
  expect(point[1]).toBeCloseTo(y, 9);
};

it("what passes now is on top, what passes a quarter turn later is on the left", () => {
  near(pointAt(0, 360, 10), 0, -10);
  near(pointAt(90, 360, 10), -10, 0);
  near(pointAt(180, 720, 10), -10, 0);
  near(pointAt(-90, 360, 10), 10, 0);
});

it("a sector runs from its first angle to its last and back inside", () => {
  const numbers = (sector({ from_deg: 0, to_deg: 90 }, 360, 5, 10).match(/-?[\d.]+/g) ?? []).map(Number);
  const has = (x: number, y: number) => numbers.some((n, i) => Math.abs(n - x) < 0.01 && Math.abs((numbers[i + 1] ?? 99) - y) < 0.01);
  for (const [x, y] of [[0, -10], [-10, 0], [-5, 0], [0, -5]] as const) expect(has(x, y)).toBe(true);
});

it("more than half a turn is the large arc", () => {
  const flag = (to: number) => /A[\d.]+,[\d.]+,0,(\d)/.exec(sector({ from_deg: 0, to_deg: to }, 360, 5, 10))?.[1];
  expect([flag(170), flag(190)]).toEqual(["0", "1"]);
});
