/** The stretch of time in view: zoom and pan that never leave the capture. No framework. */
import { scaleLinear } from "d3-scale";

export type Span = { from: number; to: number };

const CLOSEST_S = 2e-5;

export function clamped(span: Span, whole: Span): Span {
  const length = Math.min(Math.max(span.to - span.from, CLOSEST_S), whole.to - whole.from);
  const from = Math.min(Math.max(span.from, whole.from), whole.to - length);
  return { from, to: from + length };
}

/** Zoomed by a factor (under 1: closer) about a moment that stays where it is. */
export function zoomed(span: Span, factor: number, about: number, whole: Span): Span {
  const share = (about - span.from) / (span.to - span.from);
  const length = (span.to - span.from) * factor;
  return clamped({ from: about - share * length, to: about + (1 - share) * length }, whole);
}

export function panned(span: Span, share: number, whole: Span): Span {
  const by = (span.to - span.from) * share;
  return clamped({ from: span.from + by, to: span.to + by }, whole);
}

export function around(fromS: number, toS: number, spanS: number, whole: Span): Span {
  const centre = (fromS + toS) / 2;
  return clamped({ from: centre - spanS / 2, to: centre + spanS / 2 }, whole);
}

/** Round moments inside the stretch, about so many. */
export function ticks(span: Span, about: number): number[] {
  return scaleLinear([span.from, span.to], [0, 1]).ticks(about);
}

/** Enough decimals to tell neighbouring ticks apart. */
export function timeWords(time: number, span: Span): string {
  const decimals = Math.min(6, Math.max(1, Math.ceil(-Math.log10(Math.max(1e-7, span.to - span.from))) + 2));
  return time.toFixed(decimals);
}
