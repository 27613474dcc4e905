/** When a valve of the cylinder is open: hatched by the profile, filled as measured; an end that is not certain fades. */
import type { Schemas } from "../../api/client";
import { offsetWords, plusMinus, SvgText } from "../../ui";
import { ink } from "../../ui/theme";
import type { Scale } from "../phase";

const FADE_DEG = 40;

type Props = {
  valve: Schemas["ValveBar"];
  corners: Schemas["CornerMark"][];
  scale: Scale;
  top: number;
};

/** The end that shut cylinders show comes first, and its flag is drawn; the other end is seldom certain. */
export function ValveLane({ valve, corners, scale, top }: Props) {
  const corner = corners[0];
  const color = valve.valve;
  const [y, h] = [top + 4, 11];
  const shift = corner?.offset_deg ?? 0;
  const from = valve.from_deg ?? valve.profile_from_deg + shift;
  const to = valve.to_deg ?? valve.profile_to_deg + shift;
  const id = `fade-${valve.valve}`;
  const end = scale.origin + 720;
  const flag = corner && corner.offset_deg !== null ? flagOf(corner) : null;
  const at = corner ? scale.x(corner.strip_deg) : 0;
  const flagW = (flag?.length ?? 0) * 6.4 + 12;
  const profile = corner && corner.profile_strip_deg !== null ? scale.x(corner.profile_strip_deg) : at;
  const right = corner?.what === "closes" ? Math.max(at, profile) + 8 : Math.min(at, profile) - flagW - 8;
  const flagX = Math.min(Math.max(right, scale.left + 2), scale.right - flagW);
  return (
    <g data-testid={`valve-${valve.valve}`}>
      <SvgText x="0" y={y + 10} size={11} weight={650} fill={ink(color)}>
        {valve.valve === "intake" ? "Intake valves" : "Exhaust valves"}
      </SvgText>
      <defs>
        <linearGradient id={id} x1="0" x2="1">
          <stop offset="0" stopColor={ink(color)} stopOpacity={valve.from_deg === null ? 0 : 0.9} />
          <stop offset="1" stopColor={ink(color)} stopOpacity={valve.to_deg === null ? 0 : 0.9} />
        </linearGradient>
      </defs>
      {stretches(valve.profile_from_deg, valve.profile_to_deg, scale.origin, end).map(([a, b]) => (
        <rect key={a} x={scale.x(a)} y={y} width={Math.max(0, scale.x(b) - scale.x(a))} height={h} fill="url(#hatch)" stroke={ink("mute")} strokeDasharray="3 2.5" strokeWidth="1" />
      ))}
      {corner &&
        stretches(from, to, scale.origin, end).map(([a, b], i, all) => (
          <Bar key={a} a={a} b={b} y={y} h={h} scale={scale} color={color} fade={id} first={i === 0} last={i === all.length - 1} valve={valve} whole={all.length === 1} />
        ))}
      {flag && corner && (
        <>
          <rect x={flagX} y={y - 3} width={flagW} height="17" rx="2" fill={ink(out(corner) ? "lateSoft" : "soft")} />
          <SvgText x={flagX + flagW / 2} y={y + 10} textAnchor="middle" size={11.5} weight={650} fill={ink(out(corner) ? "late" : "ink")}>
            {flag}
          </SvgText>
        </>
      )}
    </g>
  );
}

function out(corner: Schemas["CornerMark"]): boolean {
  return corner.offset_deg !== null && Math.abs(corner.offset_deg) > corner.u95_deg;
}

function flagOf(corner: Schemas["CornerMark"]): string {
  return `${corner.what} ${offsetWords(corner.offset_deg ?? 0, corner.u95_deg)} ${plusMinus(corner.u95_deg)}°`;
}

type BarProps = {
  a: number;
  b: number;
  y: number;
  h: number;
  scale: Scale;
  color: string;
  fade: string;
  first: boolean;
  last: boolean;
  whole: boolean;
  valve: Schemas["ValveBar"];
};

/** The sure part is filled, the last forty degrees towards an end that is not certain fade out. */
function Bar({ a, b, y, h, scale, color, fade, first, last, valve }: BarProps) {
  const fadesIn = first && valve.from_deg === null;
  const fadesOut = last && valve.to_deg === null;
  const solidFrom = fadesIn ? Math.min(b, a + FADE_DEG) : a;
  const solidTo = fadesOut ? Math.max(a, b - FADE_DEG) : b;
  const x = (deg: number) => scale.x(deg);
  return (
    <>
      {fadesIn && <rect x={x(a)} y={y} width={x(solidFrom) - x(a)} height={h} fill={`url(#${fade})`} />}
      {solidTo > solidFrom && <rect x={x(solidFrom)} y={y} width={x(solidTo) - x(solidFrom)} height={h} fill={ink(color)} opacity="0.9" />}
      {fadesOut && <rect x={x(solidTo)} y={y} width={x(b) - x(solidTo)} height={h} fill={`url(#${fade})`} />}
    </>
  );
}

/** An open stretch cut at the ends of the strip. */
function stretches(from: number, to: number, origin: number, end: number): [number, number][] {
  const wrap = (deg: number) => origin + ((((deg - origin) % 720) + 720) % 720);
  const [a, b] = [wrap(from), wrap(to)];
  return a < b ? [[a, b]] : [[a, end], [origin, b]];
}
