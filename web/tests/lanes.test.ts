/** Lanes of the signal strip, files that belong together, and names. */
import { describe, expect, it } from "vitest";

import { paired } from "../src/features/captures/pairs";
import { changed, moved, regained, rows, settingsFor } from "../src/features/signals/lanes";
import { laneColor, laneName } from "../src/features/signals/names";

const names = (lanes: { column: string }[]) => lanes.map((lane) => lane.column).join(" ");

describe("lanes", () => {
  const three = settingsFor(["a", "b", "c"], []);

  it("keep what was chosen when channels come and go", () => {
    const chosen = changed(moved(three, "c", -1), "c", { gain: 4 });
    const next = settingsFor(["a", "c", "d"], chosen);
    expect(names(next)).toBe("a c d");
    expect(next[1]?.gain).toBe(4);
  });

  it("move up and down and stop at the ends", () => {
    expect(names(moved(three, "b", 1))).toBe("a c b");
    expect(moved(three, "a", -1)).toBe(three);
    expect(moved(three, "x", 1)).toBe(three);
  });

  it("are enlarged step by step between the least and the most", () => {
    let lanes = three;
    for (let i = 0; i < 9; i++) lanes = regained(lanes, "a", 1);
    expect(lanes[0]?.gain).toBe(8);
    for (let i = 0; i < 9; i++) lanes = regained(lanes, "a", -1);
    expect(lanes[0]?.gain).toBe(0.25);
  });

  it("lie over the one before, hidden ones nowhere", () => {
    const laid = changed(changed(three, "b", { over: true }), "a", { hidden: false });
    expect(rows(laid).map(names)).toEqual(["a b", "c"]);
    expect(rows(changed(laid, "a", { hidden: true })).map(names)).toEqual(["b", "c"]);
  });
});

describe("names and colours of lanes", () => {
  const of = (role: string, cam: string | null = null) => ({ role, cam, column: "c7" });

  it("say what a channel is, or its column", () => {
    expect([of("crank"), of("cam", "B2E"), of("other"), of("intake_pulse")].map(laneName)).toEqual(["Crank", "B2E", "c7", "Intake pulses"]);
  });

  it("part intake from exhaust", () => {
    expect([of("cam", "B1I"), of("cam", "B1E"), of("cam", "exhaust left"), of("coil"), of("other")].map(laneColor)).toEqual([
      "intake",
      "exhaust",
      "exhaust",
      "coil",
      "mute",
    ]);
  });
});

describe("dropped files", () => {
  const file = (name: string, content = "") => new File([content], name);

  it("pair a description with the file it names, whatever its own name", async () => {
    const described = file("one.capture.json", JSON.stringify({ data: "scope 7.csv" }));
    const found = await paired([file("other.csv"), described, file("scope 7.csv")]);
    expect(found.pairs.map((p) => [p.description?.name ?? null, p.data.name])).toEqual([
      ["one.capture.json", "scope 7.csv"],
      [null, "other.csv"],
    ]);
    expect(found.problems).toEqual([]);
  });

  it("say which data file did not come along", async () => {
    const found = await paired([file("one.capture.json", JSON.stringify({ data: "gone.csv" }))]);
    expect(found.pairs).toEqual([]);
    expect(found.problems[0]).toContain("describes gone.csv, which did not come with it");
  });

  it("take a broken description for that of its namesake, so that the server can say what is wrong", async () => {
    const found = await paired([file("one.capture.json", "{broken"), file("one.csv")]);
    expect(found.pairs[0]?.description?.name).toBe("one.capture.json");
  });
});
