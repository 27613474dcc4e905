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
  const path = sector({ from_deg: 0, to_deg: 90 }, 360, 5, 10).replace(/-0\.00/g, "0.00");
  expect(path).toBe("M0.00 -10.00A10.00 10.00 0 0 0 -10.00 0.00L-5.00 0.00A5.00 5.00 0 0 1 0.00 -5.00Z");
});

it("more than half a turn is the large arc", () => {
  const flag = (to: number) => /A\S+ \S+ 0 (\d)/.exec(sector({ from_deg: 0, to_deg: to }, 360, 5, 10))?.[1];
  expect([flag(170), flag(190)]).toEqual(["0", "1"]);
});
