import { describe, expect, it } from "vitest";

import { isLow, SOURCE_WORDS, spreadWords, STATE_WORDS } from "../src/features/compression/words";

const bar = (cylinder: number, state: "good" | "weak" | "dead" | "unknown") => ({
  cylinder,
  relative: 1,
  u95: 0.05,
  state,
  by_source: [],
});

describe("words of the Seal station", () => {
  it("know every source and every state", () => {
    expect(Object.keys(SOURCE_WORDS).sort()).toEqual(["battery_voltage", "crank_speed", "starter_current"]);
    expect(Object.keys(STATE_WORDS).sort()).toEqual(["dead", "good", "unknown", "weak"]);
  });

  it("call weak and dead low, unsure not", () => {
    const view = { bars: [bar(1, "good"), bar(2, "weak"), bar(3, "dead"), bar(4, "unknown")] } as unknown as Parameters<typeof isLow>[0];
    expect([1, 2, 3, 4].map((c) => isLow(view, c))).toEqual([false, true, true, false]);
  });

  it("tell the spread over cycles and what does not repeat", () => {
    expect(spreadWords({ spread: 0.034, repeats: true })).toBe("3 %");
    expect(spreadWords({ spread: 0.004, repeats: true })).toBe("0.4 %");
    expect(spreadWords({ spread: 0.31, repeats: false })).toBe("31 %, not alike");
    expect(spreadWords({ spread: null, repeats: null })).toBe("");
  });
});
