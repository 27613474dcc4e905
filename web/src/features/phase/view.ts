/** What a person has picked on the Phase station: the cycle, the edge under the loupe, the unit. */
import { useState } from "react";

import { type AngleUnit, usePreferences, useKeys } from "../../ui";
import type { Strip } from "./strip-geometry";

export type Unit = AngleUnit;
export type PickedEdge = { cam: string; segment: string; edge: number };

export type PhaseView = {
  cycle: number | null;
  setCycle: (cycle: number | null) => void;
  step: (by: number) => void;
  loupe: PickedEdge | null;
  setLoupe: (edge: PickedEdge | null) => void;
  unit: Unit;
  setUnit: (unit: Unit) => void;
  focus: Focus | null;
  setFocus: (focus: Focus | null) => void;
  rulers: [number, number] | null;
  setRulers: (rulers: [number, number] | null) => void;
};

/** A moment or stretch to look at in the raw signals; `nth` tells one look from the next at the same moment. */
export type Focus = { timeS: number; toS: number; spanS: number; nth: number };
const UNITS: readonly Unit[] = ["degrees", "forwards", "backwards"];

export function usePhaseView(strip: Strip | undefined): PhaseView {
  const [cycle, setCycle] = useState<number | null>(null);
  const [loupe, setLoupe] = useState<PickedEdge | null>(null);
  const preferred = usePreferences().angle;
  const [unit, setUnit] = useState<Unit>(strip?.ruler?.pitch_deg === null ? "degrees" : preferred);
  const [focus, setFocus] = useState<Focus | null>(null);
  const [rulers, setRulers] = useState<[number, number] | null>(null);
  const count = strip?.cycles.length ?? 0;
  const edges: PickedEdge[] = (strip?.lanes ?? []).flatMap((lane) =>
    lane.edges.map((e) => ({ cam: lane.cam, segment: lane.segment, edge: e.edge })),
  );
  const step = (by: number) => {
    if (!count) return;
    setCycle((now) => (now === null ? (by > 0 ? 1 : count) : Math.min(count, Math.max(1, now + by))));
  };
  const stepEdge = (by: number) => {
    if (!edges.length) return;
    const at = edges.findIndex((e) => sameEdge(e, loupe));
    setLoupe(edges[at < 0 ? (by > 0 ? 0 : edges.length - 1) : (at + by + edges.length) % edges.length] ?? null);
  };
  const hasTeeth = strip?.ruler?.pitch_deg != null;
  useKeys({
    ArrowLeft: () => step(-1),
    ArrowRight: () => step(1),
    "0": () => setCycle(null),
    e: () => stepEdge(1),
    "shift+e": () => stepEdge(-1),
    l: () => (loupe ? setLoupe(null) : stepEdge(1)),
    Escape: () => setLoupe(null),
    t: () => hasTeeth && setUnit((now) => UNITS[(UNITS.indexOf(now) + 1) % UNITS.length] ?? "degrees"),
  });
  return { cycle, setCycle, step, loupe, setLoupe, unit, setUnit, focus, setFocus, rulers, setRulers };
}

export function sameEdge(a: PickedEdge, b: PickedEdge | null): boolean {
  return b !== null && a.cam === b.cam && a.edge === b.edge && a.segment === b.segment;
}

const rest = () => undefined;

/** Nothing picked and nothing to pick: for lanes that are only looked at. */
export function restingView(): PhaseView {
  return {
    cycle: null,
    setCycle: rest,
    step: rest,
    loupe: null,
    setLoupe: rest,
    unit: "degrees",
    setUnit: rest,
    focus: null,
    setFocus: rest,
    rulers: null,
    setRulers: rest,
  };
}
