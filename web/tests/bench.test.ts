import { expect, test } from "vitest";

import { type BenchEngine, calm, faultOf, onEngine, sizeWords, type Slider, sliderOf, sound, toggled, usual } from "../src/features/practice/bench/by-hand";

const slider = (least: number, most: number, step: number, unit: string, value = 0): Slider => ({ words: "", unit, least, most, step, usual: value });
const bare = { cams: [], many: false, crank: false, cylinders: [], signals: [], presents: ["always"] };
const ENGINE: BenchEngine = {
  id: "a",
  name: "A",
  cams: [
    { id: "I", title: "Intake cam" },
    { id: "E", title: "Exhaust cam" },
  ],
  cylinders: [1, 2],
  faults: [
    { ...bare, fault: "none", title: "none", ways: [{ leak: null, title: "", slider: null }] },
    { ...bare, fault: "chain_jumped", title: "jumped", cams: ["I", "E"], many: true, ways: [{ leak: null, title: "", slider: slider(-4, 4, 1, "pitches", 1) }] },
    { ...bare, fault: "cam_slipped", title: "slipped", cams: ["I", "E"], ways: [{ leak: null, title: "", slider: slider(-60, 60, 0.1, "°", 12) }] },
    {
      ...bare,
      fault: "weak_cylinder",
      title: "weak",
      cylinders: [1, 2],
      ways: [
        { leak: "rings", title: "rings", slider: slider(0, 20, 0.1, "mm²", 5) },
        { leak: "plug", title: "plug", slider: null },
      ],
    },
    { ...bare, fault: "induced_pulses", title: "pulses", cams: ["I", "E"], crank: true, signals: ["extra"], ways: [{ leak: null, title: "", slider: null }] },
  ],
  nuisances: [{ id: "noise_v", slider: slider(0, 0.5, 0.005, "V", 0.012) }],
  tooth_deg: 6,
  pitch_deg: 18,
};

test("a fault begins at its usual size and the first place it can have", () => {
  expect(usual(faultOf(ENGINE, "cam_slipped"))).toMatchObject({ size: 12, cams: ["I"] });
  expect(usual(faultOf(ENGINE, "chain_jumped"))).toMatchObject({ size: 1, cams: ["I", "E"] });
  expect(usual(faultOf(ENGINE, "weak_cylinder"))).toMatchObject({ size: 5, leak: "rings", cylinder: 1, cams: [] });
  expect(usual(faultOf(ENGINE, "induced_pulses"))).toMatchObject({ cams: [], signal: "extra" });
});

test("an engine that cannot have the fault begins with its first", () => {
  expect(onEngine(ENGINE, "sync_misadjusted", 3)).toMatchObject({ engine: "a", fault: "none", seed: 3, nuisances: { noise_v: 0.012 } });
  expect(calm(ENGINE)).toEqual({ noise_v: 0.012 });
});

test("a plug that is loose has no size", () => {
  const weak = faultOf(ENGINE, "weak_cylinder");
  expect(sliderOf(weak, "rings")?.usual).toBe(5);
  expect(sliderOf(weak, "plug")).toBeNull();
});

test("the sound engine behind the picture keeps what lies over it", () => {
  const car = { ...onEngine(ENGINE, "weak_cylinder", 7), nuisances: { ...calm(ENGINE), noise_v: 0.3 } };
  expect(sound(car)).toMatchObject({ fault: "none", seed: 7, nuisances: { noise_v: 0.3 }, sized: { cylinder: null } });
});

test("the last cam is not let go", () => {
  expect(toggled(["I", "E"], "I")).toEqual(["E"]);
  expect(toggled(["E"], "E")).toEqual(["E"]);
  expect(toggled(["E"], "I")).toEqual(["E", "I"]);
});

test("sizes are said with their way, their unit and no more decimals than they have", () => {
  const pitches = slider(-4, 4, 1, "pitches");
  expect(sizeWords(1, pitches)).toBe("1 pitch late");
  expect(sizeWords(-2, pitches)).toBe("2 pitches early");
  expect(sizeWords(0, pitches)).toBe("0 pitches");
  expect(sizeWords(-12.34, slider(-60, 60, 0.1, "°"))).toBe("12.3° early");
  expect(sizeWords(0, slider(-60, 60, 0.1, "°"))).toBe("0.0°");
  expect(sizeWords(0.012, slider(0, 0.5, 0.005, "V"))).toBe("0.012 V");
  expect(sizeWords(97.5, slider(0, 99, 0.5, "%"))).toBe("97.5 %");
});
