/** Cams of a draft: their edges, and what else in the profile goes by a cam's name. */
import { at, type Draft, type Json, listAt, type Path, textAt, withAt } from "./draft";

/** By cam's name: free links and stages of the drive. */
const BY_CAM: readonly Path[] = [
  ["drive", "free_links"],
  ["drive", "pitch_crank_deg"],
];

export const camName = (draft: Draft, i: number): string => textAt(draft, ["cams", i, "id"]);

/** Another name for a cam, in the drive and at the wheels that turn with it, too. */
export function withCamNamed(draft: Draft, i: number, name: string): Draft {
  return followed(withAt(draft, ["cams", i, "id"], name), camName(draft, i), name);
}

/** Without that cam, and without what the drive says about it. */
export function withoutCam(draft: Draft, i: number): Draft {
  return followed(withAt(draft, ["cams", i], undefined), camName(draft, i), "");
}

function followed(draft: Draft, before: string, after: string): Draft {
  let next = draft;
  for (const table of BY_CAM) {
    const told = at(next, [...table, before]);
    if (before === "" || told === undefined) continue;
    next = withAt(next, [...table, before], undefined);
    if (after !== "") next = withAt(next, [...table, after], told);
  }
  listAt(next, ["aux_wheels"]).forEach((_, i) => {
    const place = ["aux_wheels", i, "turns_with"];
    if (before !== "" && textAt(next, place) === before) next = withAt(next, place, after === "" ? "crank" : after);
  });
  return next;
}

export type EdgeKind = "rising" | "falling";

/** Edges from a row of angles. They alternate from the first kind on; the crossings of an inductive sensor are all of one
 * kind, unless as many stood there before, which then keep theirs. */
export function camEdges(anglesDeg: number[], first: EdgeKind, inductive: boolean, before: string[]): Json[] {
  const other = first === "rising" ? "falling" : "rising";
  const kept = inductive && before.length === anglesDeg.length && before[0] === first;
  return anglesDeg.map((deg, k) => ({ deg, kind: kept ? (before[k] ?? first) : inductive || k % 2 === 0 ? first : other }));
}

/** The next cam by the usual names: intake, exhaust, then the other bank. */
export function nextCam(taken: string[]): Draft {
  for (const bank of [1, 2])
    for (const [letter, shaft] of [
      ["I", "intake"],
      ["E", "exhaust"],
    ] as const) {
      const id = `B${String(bank)}${letter}`;
      if (!taken.includes(id)) return { id, bank, shaft, sensor: "hall" };
    }
  return { id: `C${String(taken.length + 1)}`, bank: 1, shaft: "single", sensor: "hall" };
}
