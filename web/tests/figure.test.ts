/** Figures beside pictures: three digits, and never a power of ten. */
import { expect, it } from "vitest";

import { figure } from "../src/ui/words";

it.each([
  [14000, "14000"],
  [212.4, "212"],
  [3.4149, "3.41"],
  [-0.01234, "-0.0123"],
  [0, "0"],
  [1e-9, "0"],
])("%s reads %s", (value, words) => {
  expect(figure(value)).toBe(words);
});
