/** The stretch of time that is looked at, and every way to move it. */
import { useState } from "react";

import { around, clamped, panned, type Span, zoomed } from "./span";

export type Cycle = { number: number; from_s: number; to_s: number };
export type Place = { fromS: number; toS: number; words: string };
export type Focus = { timeS: number; toS: number; spanS: number };

type About = { whole: Span; cycles: Cycle[]; cycle: number | null; focus: Focus | null; places: Place[] };

export type SignalView = ReturnType<typeof useSignalView>;

export function useSignalView({ whole, cycles, cycle, focus, places }: About) {
  const picked = cycles.find((c) => c.number === cycle);
  const [zoom, setZoom] = useState<Span | null>(focus && around(focus.timeS, focus.toS, focus.spanS, whole));
  const span = zoom ?? (picked ? { from: picked.from_s, to: picked.to_s } : whole);
  const centre = (span.from + span.to) / 2;
  const zoomBy = (factor: number) => setZoom(zoomed(span, factor, centre, whole));
  const panBy = (share: number) => setZoom(panned(span, share, whole));
  const jump = (by: 1 | -1) => {
    const beyond = places.filter((p) => (by > 0 ? p.fromS > centre + 1e-6 : p.fromS < centre - 1e-6));
    const next = by > 0 ? beyond[0] : beyond.at(-1);
    if (!next) return;
    const length = Math.min(span.to - span.from, Math.max(0.1, 3 * (next.toS - next.fromS)));
    setZoom(around(next.fromS, next.toS, length, whole));
  };
  const oneCycle = () => {
    const own = cycles.find((c) => centre >= c.from_s && centre <= c.to_s) ?? cycles[0];
    if (own) setZoom({ from: own.from_s, to: own.to_s });
  };
  /** 720 degrees from the left edge on: the rest of its cycle, and as much of the next. */
  const one720 = () => {
    const own = cycles.find((c) => span.from >= c.from_s - 1e-9 && span.from < c.to_s) ?? cycles[0];
    if (!own) return;
    const next = cycles.find((c) => c.number === own.number + 1);
    const share = Math.max(0, (span.from - own.from_s) / (own.to_s - own.from_s));
    const end = next ? next.from_s + share * (next.to_s - next.from_s) : own.to_s + share * (own.to_s - own.from_s);
    setZoom(clamped({ from: own.from_s + share * (own.to_s - own.from_s), to: end }, whole));
  };
  return { span, centre, setZoom, zoomBy, panBy, jump, oneCycle, one720, wholeCapture: () => setZoom(whole) };
}
