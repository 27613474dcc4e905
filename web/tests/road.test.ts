import { describe, expect, it } from "vitest";

import { figures } from "../src/features/road/words";

const result = {
  name: "drive.csv",
  duration_s: 70,
  moments: 280,
  full_throttle_s: 14,
  peak_load_percent: 64.4,
  peak_load_u95_percent: 3,
  peak_load_rpm: 3012,
  volumetric_efficiency: 0.612,
  volumetric_efficiency_u95: 0.031,
  volumetric_efficiency_rpm: 4149,
  trims_percent: -2.4,
  trims_u95_percent: 1,
  manifold_drop_kpa: 2.2,
  boosted: false,
  state: "breathing" as const,
  text: "",
  missing: [],
  notes: [],
  limits: [],
};

describe("figures of a road test", () => {
  it("stand with their half widths and the speed", () => {
    expect(figures(result).map((f) => [f.value, f.beside])).toEqual([
      ["64 ± 3 %", "at 3000 rpm"],
      ["61 ± 3 %", "at 4150 rpm"],
      ["−2 ± 1 %", "short and long together"],
      ["2 kPa under", "the outside"],
    ]);
  });

  it("leave out what was not measured", () => {
    const bare = { ...result, peak_load_percent: null, volumetric_efficiency: null, trims_percent: null, manifold_drop_kpa: null };
    expect(figures(bare)).toEqual([]);
  });

  it("say which side of the outside a charged engine is", () => {
    expect(figures({ ...result, manifold_drop_kpa: -58 }).at(-1)?.value).toBe("58 kPa over");
  });
});
