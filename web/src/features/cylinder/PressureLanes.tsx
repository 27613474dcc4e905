/** The pressure twice: whole, and its low end, where the corners sit within half a bar. */
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";

import type { Schemas } from "../../api/client";
import { inUnit, type PressureUnit, pressureWords, SvgText } from "../../ui";
import { ink } from "../../ui/theme";
import { LaneLabel, type Scale } from "../phase";
import type { Draft } from "./draft";

const [FULL_H, LOW_H, STROKES_H] = [80, 74, 22];
export const PRESSURE_LANES_H = FULL_H + LOW_H + STROKES_H + 8;
const [LOW_FROM, LOW_TO] = [-0.75, 1.0];
const GAP_DEG = 6;

type Props = { one: Schemas["FeltView"]; cycle: number | null; scale: Scale; top: number; unit: PressureUnit; draft: Draft | null };

export function PressureLanes({ one, cycle, scale, top, unit, draft }: Props) {
  const bar = cycle === null ? one.mean.bar : (one.every[cycle] ?? one.mean.bar);
  const highest = Math.max(one.peak_bar, one.expected_bar ?? 0, ...(one.expected?.bar ?? [0]));
  const full = scaleLinear([Math.min(-0.6, ...bar), 1.08 * highest], [top + FULL_H, top + 6]);
  const lowTop = top + FULL_H + 6;
  const low = scaleLinear([LOW_FROM, LOW_TO], [lowTop + LOW_H, lowTop]);
  const peakX = scale.x(one.tdc_strip_deg);
  const early = one.peak_deg === null ? "" : `${(-one.peak_deg).toFixed(1)}° before TDC`;
  const toRight = peakX < scale.right - 190;
  const x = toRight ? peakX + 40 : peakX - 40;
  const anchor = toRight ? "start" : "end";
  return (
    <g>
      <LaneLabel name={`Pressure ${String(one.cylinder)}`} below={[`${unit}, ${one.cycles === 1 ? "1 cycle" : `${String(one.cycles)} cycles`}`]} color="pressure" y={top + 18} />
      <clipPath id="low-end">
        <rect x={scale.left} y={lowTop} width={scale.right - scale.left} height={LOW_H} />
      </clipPath>
      <rect x={scale.left} y={lowTop} width={scale.right - scale.left} height={LOW_H} fill={ink("panel")} />
      <LaneLabel name="Low end" below={[`${inUnit(LOW_FROM, unit).toFixed(unit === "bar" ? 2 : 0)} to ${inUnit(LOW_TO, unit).toFixed(0)} ${unit}`]} color="pressure" y={lowTop + 18} />
      <line x1={scale.left} x2={scale.right} y1={low(0)} y2={low(0)} stroke={ink("line")} />
      <SvgText x={scale.left - 6} y={low(0) + 4} textAnchor="end" size={11} fill={ink("mute")}>
        0
      </SvgText>
      {one.expected && (
        <>
          <path d={path(one.expected.deg, one.expected.bar, scale, full)} fill="none" stroke={ink("mute")} strokeWidth="1.3" strokeDasharray="3 2.5" />
          <path d={path(one.expected.deg, one.expected.bar, scale, low)} clipPath="url(#low-end)" fill="none" stroke={ink("mute")} strokeWidth="1.3" strokeDasharray="3 2.5" />
        </>
      )}
      {cycle !== null && <path d={path(one.mean.deg, one.mean.bar, scale, full)} fill="none" stroke={ink("pressure")} opacity="0.35" />}
      <path d={path(one.mean.deg, bar, scale, full)} fill="none" stroke={ink("pressure")} strokeWidth="2" />
      <path d={path(one.mean.deg, bar, scale, low)} clipPath="url(#low-end)" fill="none" stroke={ink("pressure")} strokeWidth="2" />
      <SvgText x={x} y={top + 20} size={13} weight={680} textAnchor={anchor} fill={ink("pressure")}>
        {pressureWords(one.peak_bar, unit)}
      </SvgText>
      <SvgText x={x} y={top + 35} size={11.5} textAnchor={anchor} fill={ink("mute")}>
        {early}
      </SvgText>
      {one.expected && (
        <SvgText x={x} y={top + 50} size={11.5} textAnchor={anchor} fill={ink("mute")}>
          cams in time: {pressureWords(Math.max(...one.expected.bar), unit)}
        </SvgText>
      )}
      {one.corners.map((corner) => (
        <CornerOnLow key={`${corner.valve} ${corner.what}`} corner={corner} scale={scale} low={low} />
      ))}
      {draft && <circle data-testid="corner-draft" cx={scale.x(draft.strip_deg)} cy={low(draft.bar)} r="6" fill="none" stroke={ink("petrol")} strokeWidth="2" />}
      <Strokes one={one} scale={scale} y={lowTop + LOW_H + 16} />
    </g>
  );
}

/** A curve over the strip; where degrees are left out it is interrupted. */
function path(deg: number[], bar: number[], scale: Scale, y: (bar: number) => number): string {
  const points = bar.flatMap((v, i): (readonly [number, number] | null)[] => {
    const at = deg[i] ?? 0;
    const gap = i > 0 && at - (deg[i - 1] ?? at) > GAP_DEG;
    return gap ? [null, [at, v]] : [[at, v]];
  });
  const drawn = line<readonly [number, number] | null>()
    .digits(1)
    .defined((point) => point !== null)
    .x((point) => scale.x(point?.[0] ?? 0))
    .y((point) => y(point?.[1] ?? 0));
  return drawn(points) ?? "";
}

/** Filled dot: the corner; hollow: set by hand. Brackets: its half width. Dotted ring: where the profile has it. */
function CornerOnLow({ corner, scale, low }: { corner: Schemas["CornerMark"]; scale: Scale; low: (bar: number) => number }) {
  const x = scale.x(corner.strip_deg);
  const y = low(corner.bar);
  const half = Math.max(5, corner.u95_deg * scale.perDeg);
  return (
    <g data-testid={`corner-${corner.valve}`}>
      {corner.profile_strip_deg !== null && <circle cx={scale.x(corner.profile_strip_deg)} cy={y} r="4" fill="none" stroke={ink("mute")} strokeDasharray="1.5 1.5" strokeWidth="1.4" />}
      <path d={`M${String(x - half + 3)} ${String(y - 8)}h-3v16h3M${String(x + half - 3)} ${String(y - 8)}h3v16h-3`} fill="none" stroke={ink("pressure")} strokeWidth="1.4" />
      <circle cx={x} cy={y} r="4.2" fill={ink(corner.by_hand ? "panel" : "pressure")} stroke={ink("pressure")} strokeWidth="1.4" />
    </g>
  );
}

function Strokes({ one, scale, y }: { one: Schemas["FeltView"]; scale: Scale; y: number }) {
  return (
    <g>
      <SvgText x="0" y={y} size={11.5} fill={ink("mute")}>
        Cylinder {one.cylinder}
      </SvgText>
      {one.strokes.map((stroke) => {
        const [a, b] = [scale.x(stroke.from_deg), scale.x(stroke.to_deg)];
        return (
          b - a > 52 && (
            <SvgText key={`${stroke.name} ${String(stroke.from_deg)}`} x={(a + b) / 2} y={y} textAnchor="middle" size={11.5} fill={ink("mute")}>
              {stroke.name}
            </SvgText>
          )
        );
      })}
    </g>
  );
}
