/** A car as the sliders stand: where they begin, and what a change of engine or fault leaves of it. */
import type { Schemas } from "../../../api/client";

/** Everything is said, so that nothing is left to what the server would take. */
export type ByHand = Required<Schemas["ByHand"]>;
export type BenchEngine = Schemas["BenchEngine"];
export type BenchFault = Schemas["FaultOut"];
export type Sized = Schemas["Sized"];
export type Slider = Schemas["Slider"];

/** The fault of that name on this engine; the first where it cannot have it. */
export function faultOf(engine: BenchEngine, name: string): BenchFault {
  const found = engine.faults.find((one) => one.fault === name) ?? engine.faults[0];
  if (!found) throw new Error("An engine without faults");
  return found;
}

/** The slider of the size, for the kind of fault that is chosen. */
export function sliderOf(fault: BenchFault, leak: string): Slider | null {
  return (fault.ways.find((way) => way.leak === null || way.leak === leak) ?? fault.ways[0])?.slider ?? null;
}

/** The fault as its sliders begin, at the first place it can have. */
export function usual(fault: BenchFault): Sized {
  const leak = (fault.ways[0]?.leak ?? "rings") as Sized["leak"];
  return {
    size: sliderOf(fault, leak)?.usual ?? 0,
    leak,
    cams: fault.many ? [...fault.cams] : fault.crank ? [] : fault.cams.slice(0, 1),
    cylinder: fault.cylinders[0] ?? null,
    signal: (fault.signals[0] ?? "lost") as Sized["signal"],
    present: (fault.presents[0] ?? "always") as Sized["present"],
    slack_deg: 0,
  };
}

export type Nuisances = ByHand["nuisances"];

/** Every nuisance where it usually is. */
export function calm(engine: BenchEngine): Nuisances {
  return Object.fromEntries(engine.nuisances.map((one) => [one.id, one.slider.usual])) as Nuisances;
}

/** Another engine under the same fault, where it can have it. */
export function onEngine(engine: BenchEngine, fault: string, seed: number): ByHand {
  const own = faultOf(engine, fault);
  return { engine: engine.id, fault: own.fault, sized: usual(own), nuisances: calm(engine), seed };
}

/** The same car without its fault, to lie behind the picture. */
export function sound(car: ByHand): ByHand {
  return { ...car, fault: "none", sized: { size: 0, leak: "rings", cams: [], cylinder: null, signal: "lost", present: "always", slack_deg: 0 } };
}

/** Cams of a fault that several can have: pressed once more one is let go, but never the last. */
export function toggled(cams: readonly string[], cam: string): string[] {
  if (!cams.includes(cam)) return [...cams, cam];
  return cams.length > 1 ? cams.filter((one) => one !== cam) : [...cams];
}

/** A size as a person reads it: its way in words, no more decimals than its slider has, one pitch and two pitches. */
export function sizeWords(value: number, slider: Slider): string {
  const decimals = slider.step >= 1 ? 0 : slider.step >= 0.1 ? 1 : slider.step >= 0.01 ? 2 : 3;
  const number = Math.abs(value).toFixed(decimals);
  const way = slider.least < 0 && Number(number) !== 0 ? (value > 0 ? " late" : " early") : "";
  const unit = slider.unit === "pitches" && Number(number) === 1 ? "pitch" : slider.unit;
  return `${number}${unit.startsWith("°") ? "" : " "}${unit}${way}`;
}
