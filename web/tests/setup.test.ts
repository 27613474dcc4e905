import { expect, test } from "vitest";

import { multiplied, type Setup } from "../src/features/import/setup";

const PRESETS = [
  { id: "clamp_1mv", name: "Clamp, 1 mV/A", role: "starter_current", scale: 1000, offset: 0, unit: "A" },
  { id: "transducer", name: "Transducer", role: "cylinder_pressure", scale: 8.6, offset: -4.3, unit: "bar" },
] as Parameters<typeof multiplied>[3];

function channel(scale: Setup["channels"][number]["scale"]): Setup["channels"][number] {
  return { column: "c3", role: "starter_current", scale, zero: 0, turned: false } as Setup["channels"][number];
}

test("a clamp that is turned round keeps its scale", () => {
  expect(multiplied(channel({ kind: "preset", id: "clamp_1mv" }), -1, "V", PRESETS)).toEqual({ turned: true });
});

test("a factor multiplies what a preset gives, in its unit", () => {
  const changed = multiplied(channel({ kind: "preset", id: "transducer" }), 0.1, "V", PRESETS).scale;
  expect(changed).toMatchObject({ kind: "line", unit: "bar" });
  expect(changed?.kind === "line" && changed.scale).toBeCloseTo(0.86);
  expect(changed?.kind === "line" && changed.offset).toBeCloseTo(-0.43);
});

test("a factor on volts as recorded stays volts", () => {
  expect(multiplied(channel(null), 0.01, "V", PRESETS)).toEqual({ scale: { kind: "line", scale: 0.01, offset: 0, unit: "V" } });
});

test("two known readings are multiplied both", () => {
  const readings = { kind: "two_points", raw_1: 0, value_1: 1, raw_2: 1, value_2: 3, unit: "bar" } as const;
  expect(multiplied(channel(readings), 10, "V", PRESETS)).toEqual({ scale: { ...readings, value_1: 10, value_2: 30 } });
});
