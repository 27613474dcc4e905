import { expect, test } from "vitest";

import type { Schemas } from "../src/api/client";
import { planHeadline, rangeWords, recordingWords, wireWords } from "../src/features/hookup/words";

const lead = {
  key: "coil:1",
  role: "coil",
  name: "Coil 1",
  clip: "",
  probe: "10:1 attenuator",
  range_v: 500,
  planned_range_v: 500,
  ranges_v: [200, 500, 1000],
  at: "sensor",
  cam: null,
  wheel: null,
  cylinder: 1,
  signal: "primary",
  coupling: "dc",
  attenuator: 10,
  unit: "V",
  note: "",
  wire: { signal: "coil:1", at: "sensor", pin: "2", colour: "violet" },
} satisfies Schemas["LeadOut"];

const page = (rounds: Schemas["LeadOut"][][]) =>
  ({
    question: { id: "spark", title: "Is the spark there, and in time?", short: "Spark", turns: "cranking" },
    repeat: "One burst",
    rounds,
    recording: { rate_hz: 100_000, length_s: 6, rpm: 350, sample_deg: 0.021, why: "", trigger: "" },
  }) as unknown as Schemas["HookUpPage"];

test("the headline counts leads and rounds", () => {
  expect(planHeadline(page([[lead, lead]]))).toBe("Two leads: is the spark there, and in time?");
  expect(planHeadline(page([[lead], [lead]]))).toBe("One lead in two rounds: is the spark there, and in time?");
});

test("one sample is told in crank degrees", () => {
  expect(recordingWords(page([[lead]]))).toBe("100 kS/s, 6 s; one sample is 0.021° of the crank at 350 rpm. One burst.");
});

test("a range names the attenuator that it lies behind", () => {
  expect(rangeWords(lead)).toBe("± 500 V, DC, behind 10:1");
  expect(rangeWords({ ...lead, range_v: 0.5, coupling: "ac", attenuator: 1 })).toBe("± 500 mV, AC");
  expect(wireWords(lead)).toBe("pin 2 violet");
});
