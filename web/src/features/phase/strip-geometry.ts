/** Angles of the turn strip in pixels, and the shapes that follow from edges. No framework, no state. */
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";

export type Strip = Schemas["TurnStrip"];
export type Lane = Schemas["CamLane"];
export type LaneEdge = Schemas["StripEdge"];

export const LABEL_PX = 94;
export const CYCLE_DEG = 720;

export type Scale = { left: number; right: number; origin: number; x: (deg: number) => number; perDeg: number };

export function scaleOf(strip: Strip, width: number): Scale {
  const left = LABEL_PX;
  const right = width - 14;
  const x = scaleLinear([strip.origin_deg, strip.origin_deg + CYCLE_DEG], [left, right]);
  return { left, right, origin: strip.origin_deg, perDeg: (right - left) / CYCLE_DEG, x };
}

export function unrolled(deg: number, origin: number): number {
  return origin + ((((deg - origin) % CYCLE_DEG) + CYCLE_DEG) % CYCLE_DEG);
}

export type Placed = { edge: number; kind: "rising" | "falling"; deg: number };

/** The angle from which an edge's lateness counts: its reference, or, without one, where it would stand undelayed. */
export function zeroOf(edge: LaneEdge): number {
  return edge.reference_deg ?? edge.measured_deg - edge.delta_deg;
}

/** Wheel teeth from the gap's tooth 1 to an edge, missing ones counted; backwards: from the edge on to the next tooth 1. */
export function teethFromGap(lane: Lane, edge: number, pitchDeg: number | null, backwards: boolean): number | null {
  const forwards = lane.edges.find((e) => e.edge === edge)?.teeth_from_gap ?? null;
  if (forwards === null || pitchDeg === null) return null;
  return backwards ? 360 / pitchDeg - forwards : forwards;
}

/** Edges of one cycle, or their means over all cycles when none is picked, in the order of the strip. */
export function placedEdges(lane: Lane, origin: number, cycle: number | null): Placed[] {
  const own = new Map(lane.cycle_edges.filter((e) => e.cycle === cycle).map((e) => [e.edge, e.delta_deg]));
  return lane.edges
    .flatMap((edge) => {
      const delta = cycle === null ? edge.delta_deg : own.get(edge.edge);
      return delta === undefined ? [] : [{ edge: edge.edge, kind: edge.kind, deg: unrolled(zeroOf(edge) + delta, origin) }];
    })
    .sort((a, b) => a.deg - b.deg);
}

/** Whether a lane has both directions, so that its level can be drawn; else only ticks are known. */
export function hasLevels(lane: Lane): boolean {
  return new Set(lane.edges.map((e) => e.kind)).size === 2;
}

/** Stretches where the signal is high, cut at the ends of the strip. */
export function highStretches(edges: Placed[], origin: number): [number, number][] {
  const first = edges[0];
  if (!first) return [];
  const found: [number, number][] = [];
  let since: number | null = first.kind === "falling" ? origin : null;
  for (const edge of edges) {
    if (edge.kind === "rising") since = edge.deg;
    else if (since !== null) {
      found.push([since, edge.deg]);
      since = null;
    }
  }
  if (since !== null) found.push([since, origin + CYCLE_DEG]);
  return found;
}

/** The signal as a line with upright edges. */
export function levelPath(edges: Placed[], scale: Scale, high: number, low: number): string {
  const first = edges[0];
  if (!first) return "";
  let path = `M${scale.left} ${first.kind === "falling" ? high : low}`;
  for (const edge of edges) path += `H${scale.x(edge.deg).toFixed(2)}V${edge.kind === "rising" ? high : low}`;
  return `${path}H${scale.right}`;
}

/** The widest room for a flag under a lane, between two arrows: where it begins and how wide it is. */
export function flagRoom(edges: Placed[], scale: Scale): { x: number; width: number } {
  const places = [scale.left, ...edges.map((e) => scale.x(e.deg)), scale.right];
  let best = { x: scale.left, width: 0 };
  for (let i = 0; i + 1 < places.length; i++) {
    const from = places[i] ?? 0;
    const width = (places[i + 1] ?? 0) - from;
    if (width > best.width) best = { x: from + 5, width: width - 22 };
  }
  return best;
}
