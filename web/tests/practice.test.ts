import { expect, test } from "vitest";

import { apiPath } from "../src/api/base";
import { readLearner } from "../src/features/practice/learner";
import { minutesWords, moneyWords, pointsWords, sureWords } from "../src/features/practice/words";

test("jobs of practice lie under practice, what is the server's stays", () => {
  expect(apiPath("/api/jobs/3/looks", true)).toBe("/practice/api/jobs/3/looks");
  expect(apiPath("/api/captures/3/raw?from=0", true)).toBe("/practice/api/captures/3/raw?from=0");
  expect(apiPath("/api/practice", true)).toBe("/api/practice");
  expect(apiPath("/api/practice?person=Ada", true)).toBe("/api/practice?person=Ada");
  expect(apiPath("/api/session", true)).toBe("/api/session");
  expect(apiPath("/api/jobs/3/looks", false)).toBe("/api/jobs/3/looks");
});

test("a name that only begins alike is no common address", () => {
  expect(apiPath("/api/sessions-of-old", true)).toBe("/practice/api/sessions-of-old");
});

test("minutes turn to hours", () => {
  expect(minutesWords(6)).toBe("6 min");
  expect(minutesWords(59.4)).toBe("59 min");
  expect(minutesWords(65)).toBe("1 h 05 min");
});

test("money and points are whole, below nought with a true minus", () => {
  expect(moneyWords(15.17, "crowns")).toBe("15 crowns");
  expect(pointsWords(-93.6)).toBe("−94");
  expect(pointsWords(82.4)).toBe("82");
  expect(pointsWords(-0.2)).toBe("0");
});

test("how sure somebody is gets surer in words", () => {
  const said = [0.05, 0.3, 0.5, 0.7, 0.9, 1].map(sureWords);
  expect(new Set(said).size).toBe(said.length);
  expect(said.at(-1)).toBe("as good as certain");
});

test("what the browser kept may be nonsense", () => {
  expect(readLearner(null)).toEqual({ person: "", className: "" });
  expect(readLearner("{")).toEqual({ person: "", className: "" });
  expect(readLearner("null")).toEqual({ person: "", className: "" });
  expect(readLearner('{"person": 3, "className": "Autumn"}')).toEqual({ person: "", className: "Autumn" });
});
