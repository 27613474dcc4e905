import { expect, test } from "vitest";

import { inBar, inUnit, nextPressureUnit, pressureWithHalf, pressureWords } from "../src/ui/pressure";

test("pressures read in the unit that was picked", () => {
  // NIST Special Publication 811, appendix B.8: 500 psi are 34.47 bar.
  expect(inUnit(34.47, "psi")).toBeCloseTo(500, 0);
  expect(pressureWords(11.72, "bar")).toBe("11.7 bar");
  expect(pressureWords(-0.012, "bar")).toBe("-12 mbar");
  expect(pressureWords(11.72, "psi")).toBe("170 psi");
  expect(pressureWithHalf(13.97, 0.35, "bar")).toBe("14.0 ± 0.3 bar");
  expect(pressureWithHalf(11.36, 0.05, "bar")).toBe("11.4 ± 0.05 bar");
});

test("kilopascals are a hundred to the bar, and what is typed goes back into bar", () => {
  expect(pressureWords(11.72, "kPa")).toBe("1172 kPa");
  expect(pressureWords(-0.012, "kPa")).toBe("-1.2 kPa");
  expect(inBar(inUnit(9.3, "psi"), "psi")).toBeCloseTo(9.3, 12);
  expect(["bar", "psi", "kPa"].map((unit) => nextPressureUnit(unit as "bar"))).toEqual(["psi", "kPa", "bar"]);
});
