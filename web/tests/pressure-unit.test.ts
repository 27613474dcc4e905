import { expect, test } from "vitest";

import { inUnit, pressureWithHalf, pressureWords } from "../src/features/cylinder/pressure-unit";

test("pressures read in the unit that was picked", () => {
  // NIST Special Publication 811, appendix B.8: 500 psi are 34.47 bar.
  expect(inUnit(34.47, "psi")).toBeCloseTo(500, 0);
  expect(pressureWords(11.72, "bar")).toBe("11.7 bar");
  expect(pressureWords(-0.012, "bar")).toBe("-12 mbar");
  expect(pressureWords(11.72, "psi")).toBe("170 psi");
  expect(pressureWithHalf(13.97, 0.35, "bar")).toBe("14.0 ± 0.3 bar");
  expect(pressureWithHalf(11.36, 0.05, "bar")).toBe("11.4 ± 0.05 bar");
});
