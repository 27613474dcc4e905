import { Fragment } from "react";

import { ink } from "../../ui/theme";
import { offsetWords, signWord, SvgText } from "../../ui";
import { sensorName } from "./CrankRuler";
import { LaneLabel } from "./LaneLabel";
import {
  flagRoom,
  hasLevels,
  highStretches,
  type Lane,
  levelPath,
  type Placed,
  placedEdges,
  type Scale,
  teethFromGap,
  unrolled,
  zeroOf,
} from "./strip-geometry";
import { type PhaseView, sameEdge, type Unit } from "./view";

type Props = { lane: Lane; scale: Scale; view: PhaseView; top: number; height: number; pitchDeg: number | null };

export function CamLaneView({ lane, scale, view, top, height, pitchDeg }: Props) {
  const color = lane.shaft === "exhaust" ? "exhaust" : "intake";
  const high = top + 6;
  const low = top + height - 25;
  const shown = placedEdges(lane, scale.origin, view.cycle);
  const reference: Placed[] = lane.edges
    .flatMap((e) =>
      e.reference_deg === null ? [] : [{ edge: e.edge, kind: e.kind, deg: unrolled(e.reference_deg, scale.origin) }],
    )
    .sort((a, b) => a.deg - b.deg);
  const levels = hasLevels(lane);
  return (
    <g>
      <LaneLabel name={lane.name} below={[sensorName(lane.sensor)]} color={color} y={top + 18} />
      {levels &&
        highStretches(reference, scale.origin).map(([from, to]) => (
          <rect key={from} x={scale.x(from)} y={high} width={scale.x(to) - scale.x(from)} height={low - high} fill="url(#hatch)" />
        ))}
      {reference.map((edge) => (
        <line
          key={edge.edge}
          x1={scale.x(edge.deg)}
          x2={scale.x(edge.deg)}
          y1={high - 2}
          y2={low}
          stroke={ink("mute")}
          strokeWidth="1.3"
          strokeDasharray="3 2.5"
        />
      ))}
      <History lane={lane} scale={scale} high={high} low={low} color={color} />
      {levels ? (
        <>
          {highStretches(shown, scale.origin).map(([from, to]) => (
            <rect
              key={from}
              x={scale.x(from)}
              y={high}
              width={scale.x(to) - scale.x(from)}
              height={low - high}
              fill={ink(color)}
              opacity="0.16"
            />
          ))}
          <path d={levelPath(shown, scale, high, low)} fill="none" stroke={ink(color)} strokeWidth="2.2" />
        </>
      ) : (
        <>
          <line x1={scale.left} x2={scale.right} y1={low} y2={low} stroke={ink(color)} />
          {shown.map((edge) => (
            <line key={edge.edge} x1={scale.x(edge.deg)} x2={scale.x(edge.deg)} y1={high} y2={low} stroke={ink(color)} strokeWidth="2.2" />
          ))}
        </>
      )}
      <Arrows lane={lane} shown={shown} scale={scale} y={low + 9} />
      <Flag lane={lane} shown={shown} scale={scale} y={low + 2} unit={view.unit} pitchDeg={pitchDeg} />
      <Corners lane={lane} scale={scale} y={low + 24} />
      {view.unit !== "degrees" && (
        <TeethLabels lane={lane} shown={shown} scale={scale} y={high + 9} backwards={view.unit === "backwards"} pitchDeg={pitchDeg} />
      )}
      {shown.map((edge) => (
        <EdgeTarget key={edge.edge} lane={lane} edge={edge} scale={scale} view={view} high={high} low={low} />
      ))}
    </g>
  );
}

function History({ lane, scale, high, low, color }: { lane: Lane; scale: Scale; high: number; low: number; color: string }) {
  const reference = new Map(lane.edges.map((e) => [e.edge, zeroOf(e)]));
  return (
    <g opacity="0.22">
      {lane.cycle_edges.map((e) => {
        const at = reference.get(e.edge);
        if (at === undefined) return null;
        const x = scale.x(unrolled(at + e.delta_deg, scale.origin));
        return <line key={`${e.cycle} ${e.edge}`} x1={x} x2={x} y1={high} y2={low} stroke={ink(color)} strokeWidth="1.6" />;
      })}
    </g>
  );
}

/** From where an edge belongs to where it is: right is late, left is early. Too short ones are left to the loupe. */
function Arrows({ lane, shown, scale, y }: { lane: Lane; shown: Placed[]; scale: Scale; y: number }) {
  if (lane.state === "in" || lane.offset_deg === null) return null;
  return (
    <g stroke={ink("late")} fill={ink("late")}>
      {shown.map((edge) => {
        const own = lane.edges.find((e) => e.edge === edge.edge);
        if (!own) return null;
        const to = scale.x(edge.deg);
        const from = to - own.delta_deg * scale.perDeg;
        if (Math.abs(to - from) < 4 || from < scale.left || from > scale.right) return null;
        const way = Math.sign(to - from);
        const head = Math.min(6, Math.abs(to - from) - 1);
        return (
          <Fragment key={edge.edge}>
            <line x1={from} x2={to - way * head * 0.6} y1={y} y2={y} strokeWidth="2" />
            <path d={`M${to} ${y}l${-way * head} -3.6v7.2z`} stroke="none" />
          </Fragment>
        );
      })}
    </g>
  );
}

/** When this cam's valves really moved in the felt cylinders: dot, with its half width; ring where the profile has it. */
function Corners({ lane, scale, y }: { lane: Lane; scale: Scale; y: number }) {
  return (
    <g>
      {lane.corners.map((corner) => {
        const x = scale.x(corner.deg);
        const half = Math.max(4, corner.u95_deg * scale.perDeg);
        const left = x > scale.right - 110;
        const size = corner.offset_deg === null ? "" : ` ${offsetWords(corner.offset_deg, corner.u95_deg)}`;
        return (
          <g key={`${String(corner.cylinder)} ${corner.what}`} data-testid={`corner-${lane.cam}`}>
            <title>{`Valves of cylinder ${String(corner.cylinder)}: ${corner.what}${size}, by its pressure`}</title>
            {corner.profile_deg !== null && <circle cx={scale.x(corner.profile_deg)} cy={y} r="4" fill="none" stroke={ink("mute")} strokeDasharray="1.5 1.5" strokeWidth="1.4" />}
            <line x1={x - half} x2={x + half} y1={y} y2={y} stroke={ink("pressure")} strokeWidth="1.6" />
            <circle cx={x} cy={y} r="4.2" fill={ink("pressure")} />
            <SvgText x={left ? Math.min(x, corner.profile_deg === null ? x : scale.x(corner.profile_deg)) - half - 3 : x + half + 3} y={y + 4} textAnchor={left ? "end" : "start"} size={11} weight={650} fill={ink("pressure")}>
              {`${String(corner.cylinder)} ${corner.what}${size}`}
            </SvgText>
          </g>
        );
      })}
    </g>
  );
}

type TeethProps = { lane: Lane; shown: Placed[]; scale: Scale; y: number; backwards: boolean; pitchDeg: number | null };

/** At which wheel tooth each edge stands, counted from the gap the way the reader prefers. */
function TeethLabels({ lane, shown, scale, y, backwards, pitchDeg }: TeethProps) {
  return (
    <g pointerEvents="none">
      {shown.map((edge) => {
        const teeth = teethFromGap(lane, edge.edge, pitchDeg, backwards);
        if (teeth === null) return null;
        const x = scale.x(edge.deg);
        const left = x > scale.right - 44;
        return (
          <SvgText
            key={edge.edge}
            x={left ? x - 5 : x + 5}
            y={y}
            size={11}
            weight={650}
            textAnchor={left ? "end" : "start"}
            fill={ink("ink")}
            style={{ paintOrder: "stroke", stroke: ink("paper"), strokeWidth: 3 }}
          >
            {teeth.toFixed(1)}
          </SvgText>
        );
      })}
    </g>
  );
}

type FlagProps = { lane: Lane; shown: Placed[]; scale: Scale; y: number; unit: Unit; pitchDeg: number | null };

function Flag({ lane, shown, scale, y, unit, pitchDeg }: FlagProps) {
  const room = flagRoom(shown, scale);
  const widthOf = (words: string) => 14 + words.length * 5.9;
  const long = flagText(lane, unit, pitchDeg);
  const text = widthOf(long) > room.width ? (long.split(" · ")[0] ?? long) : long;
  const width = widthOf(text);
  const x = Math.min(room.x, scale.right - width);
  const calm = lane.state === "in" || lane.state === null;
  return (
    <g data-testid={`flag-${lane.cam}`}>
      <rect x={x} y={y} width={width} height="18" rx="2" fill={ink(calm ? "soft" : "lateSoft")} />
      <SvgText x={x + 7} y={y + 13} size={12} weight={680} fill={ink(calm ? "ink" : "late")}>
        {text}
      </SvgText>
    </g>
  );
}

function flagText(lane: Lane, unit: Unit, pitchDeg: number | null): string {
  if (lane.offset_deg === null || lane.total_u95_deg === null) return `${lane.edges.length} edges, nothing to compare with`;
  const teeth = pitchDeg === null || lane.wheel_teeth === null ? null : Math.abs(lane.wheel_teeth).toFixed(1);
  const degrees = offsetWords(lane.offset_deg, lane.total_u95_deg);
  const pitches =
    lane.pitches === null || Math.abs(lane.pitches) < 0.5 ? "" : ` · ${Math.abs(lane.pitches).toFixed(1)} ${pitchWord(lane.pitches)}`;
  const head =
    unit !== "degrees" && teeth !== null
      ? `${teeth} wheel teeth ${signWord(lane.offset_deg, lane.total_u95_deg)}`.trim()
      : degrees + (pitches || teeth === null || Number(teeth) === 0 ? "" : ` · ${teeth} wheel teeth`);
  return (lane.state === "unsteady" ? `unsteady · ${head}` : head) + pitches;
}

function pitchWord(pitches: number): string {
  return Math.abs(pitches).toFixed(1) === "1.0" ? "pitch" : "pitches";
}

/** A place to click or tap for the loupe, wider than the line itself. */
function EdgeTarget(props: { lane: Lane; edge: Placed; scale: Scale; view: PhaseView; high: number; low: number }) {
  const { lane, edge, scale, view, high, low } = props;
  const own = { cam: lane.cam, segment: lane.segment, edge: edge.edge };
  const x = scale.x(edge.deg);
  const on = sameEdge(own, view.loupe);
  return (
    <g
      style={{ cursor: "zoom-in" }}
      onClick={() => view.setLoupe(on ? null : own)}
      data-testid={`edge-${lane.cam}-${edge.edge}`}
    >
      {on && <circle cx={x} cy={(high + low) / 2} r="5" fill={ink("petrol")} />}
      <rect x={x - 9} y={high} width="18" height={low - high} fill="transparent">
        <title>{`${lane.name}, edge ${edge.edge + 1} ${edge.kind}: look closer`}</title>
      </rect>
    </g>
  );
}
