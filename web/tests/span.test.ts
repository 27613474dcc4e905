/** Zoom and pan over the signals. */
import { describe, expect, it } from "vitest";

import { around, clamped, panned, ticks, timeWords, zoomed } from "../src/features/signals/span";

const WHOLE = { from: 0, to: 10 };

describe("the stretch in view", () => {
  it("never leaves the capture", () => {
    expect(clamped({ from: -1, to: 2 }, WHOLE)).toEqual({ from: 0, to: 3 });
    expect(clamped({ from: 9, to: 12 }, WHOLE)).toEqual({ from: 7, to: 10 });
    expect(clamped({ from: -5, to: 50 }, WHOLE)).toEqual(WHOLE);
  });

  it("keeps the moment under the pointer when it zooms", () => {
    const closer = zoomed(WHOLE, 0.5, 4, WHOLE);
    expect(closer).toEqual({ from: 2, to: 7 });
    expect((4 - closer.from) / (closer.to - closer.from)).toBeCloseTo(0.4);
    expect(zoomed(closer, 4, 4, WHOLE)).toEqual(WHOLE);
  });

  it("stops at twenty microseconds", () => {
    let span = WHOLE;
    for (let i = 0; i < 60; i++) span = zoomed(span, 0.5, 5, WHOLE);
    expect(span.to - span.from).toBeCloseTo(2e-5, 9);
  });

  it("pans by a share of itself and stops at the ends", () => {
    expect(panned({ from: 2, to: 4 }, 0.5, WHOLE)).toEqual({ from: 3, to: 5 });
    expect(panned({ from: 0, to: 4 }, -0.5, WHOLE)).toEqual({ from: 0, to: 4 });
  });

  it("stands around a place", () => {
    expect(around(4, 6, 1, WHOLE)).toEqual({ from: 4.5, to: 5.5 });
  });
});

describe("ticks", () => {
  it.each([
    [{ from: 0, to: 10 }, [0, 2, 4, 6, 8, 10]],
    [{ from: 0.3, to: 1.1 }, [0.4, 0.6, 0.8, 1.0]],
    [{ from: -1, to: 1 }, [-1, -0.5, 0, 0.5, 1]],
  ])("are round numbers inside", (span, expected) => {
    const found = ticks(span, 5);
    expect(found.length).toBe(expected.length);
    found.forEach((tick, i) => {
      expect(tick).toBeCloseTo(expected[i] ?? NaN, 9);
    });
  });

  it("have decimals enough to be told apart", () => {
    expect(timeWords(1.23456, { from: 0, to: 10 })).toBe("1.2");
    expect(timeWords(1.23456, { from: 1.2, to: 1.3 })).toBe("1.235");
    expect(timeWords(1.23456, { from: 1.2345, to: 1.2346 })).toBe("1.234560");
  });
});
