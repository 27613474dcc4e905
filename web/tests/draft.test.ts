/** A profile while it is written: places, lists of numbers, cams and what goes by their names. */
import { describe, expect, it } from "vitest";

import { camEdges, nextCam, withCamNamed, withoutCam } from "../src/features/engines/cams";
import { at, type Draft, listOf, NEW_ENGINE, numberOf, numbersAt, numbersOf, textAt, withAt } from "../src/features/engines/draft";

describe("a field of the draft", () => {
  it("is written where it belongs, and the rest stays the same object", () => {
    const geometry = { bore_mm: 86 };
    const before: Draft = { ...NEW_ENGINE, geometry };
    const after = withAt(before, ["crank", "wheel"], { slots: 60 });
    expect(at(after, ["crank", "wheel", "slots"])).toBe(60);
    expect(after.geometry).toBe(geometry);
    expect(before).toEqual({ ...NEW_ENGINE, geometry });
  });

  it("makes the parts around it", () => {
    expect(withAt({}, ["drive", "free_links", "B1I"], 46)).toEqual({ drive: { free_links: { B1I: 46 } } });
    expect(withAt({}, ["cams", 0, "id"], "B1I")).toEqual({ cams: [{ id: "B1I" }] });
  });

  it("left blank is absent, and so are parts with nothing in them", () => {
    const draft: Draft = { name: "Ebb", geometry: { bore_mm: 86 }, banks: [{ bank: 1, cylinders: [1, 2] }] };
    expect(withAt(draft, ["geometry", "bore_mm"], undefined)).toEqual({ name: "Ebb", banks: [{ bank: 1, cylinders: [1, 2] }] });
    expect(withAt(draft, ["banks", 0], undefined)).toEqual({ name: "Ebb", geometry: { bore_mm: 86 } });
    expect(withAt({ name: "Ebb" }, ["name"], undefined)).toEqual({});
  });

  it("reads as text, or as nothing", () => {
    const draft: Draft = { cylinders: 4, name: "Ebb", cams: [{ edges: [] }] };
    expect([textAt(draft, ["cylinders"]), textAt(draft, ["name"]), textAt(draft, ["cams"]), textAt(draft, ["x", 3, "y"])]).toEqual(["4", "Ebb", "", ""]);
    expect(numbersAt({ firing_order: [1, 3, 4, 2] }, ["firing_order"])).toEqual([1, 3, 4, 2]);
  });
});

describe("numbers as a person lists them", () => {
  it.each([
    ["1 3 4 2", [1, 3, 4, 2]],
    ["1,3,4,2", [1, 3, 4, 2]],
    ["1, 3, 4, 2", [1, 3, 4, 2]],
    ["30,5 75 210", [30.5, 75, 210]],
    ["30.5; 75", [30.5, 75]],
    ["-10 2", [-10, 2]],
    ["12°", [12]],
    ["  ", []],
  ])("%s", (text, numbers) => {
    expect(numbersOf(text)).toEqual(numbers);
  });

  it.each(["one", "1 x", "1-2", "3 .. 4"])("%s is none", (text) => {
    expect(numbersOf(text)).toBeNull();
  });

  it("one number has a decimal comma, too many are none", () => {
    expect([numberOf("84,5"), numberOf("84.5"), numberOf(""), numberOf("1 2"), numberOf("x")]).toEqual([84.5, 84.5, undefined, null, null]);
  });

  it("an empty list is left out", () => {
    expect([listOf(""), listOf("59 60"), listOf("59 sixty")]).toEqual([undefined, [59, 60], null]);
  });
});

const TWO_CAMS: Draft = {
  cams: [{ id: "B1I" }, { id: "B1E" }],
  drive: { free_links: { B1I: 46, B1E: 30 }, pitch_crank_deg: { B1E: [20, 17] } },
  aux_wheels: [
    { id: "A1", turns_with: "B1E" },
    { id: "A2", turns_with: "crank" },
  ],
};

describe("a cam of the draft", () => {
  it("keeps its links, stages and wheels under another name", () => {
    const next = withCamNamed(TWO_CAMS, 1, "EXH");
    expect(at(next, ["cams", 1, "id"])).toBe("EXH");
    expect(next.drive).toEqual({ free_links: { B1I: 46, EXH: 30 }, pitch_crank_deg: { EXH: [20, 17] } });
    expect(textAt(next, ["aux_wheels", 0, "turns_with"])).toBe("EXH");
    expect(textAt(next, ["aux_wheels", 1, "turns_with"])).toBe("crank");
  });

  it("takes what the drive says about it along when it goes", () => {
    const next = withoutCam(TWO_CAMS, 1);
    expect(next.cams).toEqual([{ id: "B1I" }]);
    expect(next.drive).toEqual({ free_links: { B1I: 46 } });
    expect(textAt(next, ["aux_wheels", 0, "turns_with"])).toBe("crank");
  });

  it("alternates from its first edge on", () => {
    expect(camEdges([20, 200, 245, 380], "falling", false, [])).toEqual([
      { deg: 20, kind: "falling" },
      { deg: 200, kind: "rising" },
      { deg: 245, kind: "falling" },
      { deg: 380, kind: "rising" },
    ]);
  });

  it("has crossings of one kind where it is inductive, and keeps mixed ones that stood there", () => {
    const kinds = (edges: unknown) => (edges as { kind: string }[]).map((edge) => edge.kind);
    expect(kinds(camEdges([10, 200], "falling", true, []))).toEqual(["falling", "falling"]);
    expect(kinds(camEdges([12, 201], "falling", true, ["falling", "rising"]))).toEqual(["falling", "rising"]);
    expect(kinds(camEdges([12, 201, 300], "falling", true, ["falling", "rising"]))).toEqual(["falling", "falling", "falling"]);
  });

  it("that is added has the next usual name", () => {
    expect(nextCam([])).toMatchObject({ id: "B1I", bank: 1, shaft: "intake" });
    expect(nextCam(["B1I", "B1E"])).toMatchObject({ id: "B2I", bank: 2 });
    expect(nextCam(["B1I", "B1E", "B2I", "B2E"])).toMatchObject({ id: "C5", shaft: "single" });
  });
});
