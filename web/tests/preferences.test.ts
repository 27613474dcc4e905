import { expect, test } from "vitest";

import { readPreferences } from "../src/ui/preferences";

const FIRST = { pressure: "bar", angle: "degrees", letterKeys: true };

test("what was set is read back", () => {
  expect(readPreferences('{"pressure":"kPa","angle":"backwards","letterKeys":false}')).toEqual({ pressure: "kPa", angle: "backwards", letterKeys: false });
});

test.each([null, "", "nonsense", "null", "[]", '{"pressure":"atm","letterKeys":"no"}'])("%s sets nothing", (text) => {
  expect(readPreferences(text)).toEqual(FIRST);
});
