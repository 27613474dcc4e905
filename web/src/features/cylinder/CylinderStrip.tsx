/** One cycle unrolled: wheel, cam signals, the valves of the cylinder under their cam, its pressure, its strokes. */
import { Box } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { type PressureUnit, SvgText, useWidth } from "../../ui";
import { ink } from "../../ui/theme";
import { CamLaneView, CrankRuler, restingView, type Scale, scaleOf } from "../phase";
import type { Draft } from "./draft";
import { PressureLanes, PRESSURE_LANES_H } from "./PressureLanes";
import { ValveLane } from "./ValveLane";

const [TDC_H, RULER_H, CAM_H, VALVE_H] = [28, 50, 56, 24];

type Props = {
  one: Schemas["FeltView"];
  picture: Schemas["CylinderPicture"];
  strip: Schemas["TurnStrip"];
  cycle: number | null;
  unit: PressureUnit;
  draft: Draft | null;
};

export function CylinderStrip({ one, picture, strip, cycle, unit, draft }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const scale = scaleOf(strip, Math.max(width, 340));
  const lanesTop = TDC_H + (strip.ruler ? RULER_H : 8);
  const groups = grouped(one, strip);
  const placed = groups.map((group, i) => ({ ...group, at: lanesTop + groups.slice(0, i).reduce((sum, before) => sum + heightOf(before), 0) }));
  const pressureTop = lanesTop + groups.reduce((sum, group) => sum + heightOf(group), 0) + 4;
  const height = pressureTop + PRESSURE_LANES_H;
  return (
    <Box ref={ref} data-testid="cylinder-strip">
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label={described(one)} style={{ display: "block" }}>
          <defs>
            <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <line x1="0" y1="0" x2="0" y2="5" stroke={ink("mute")} strokeWidth="0.9" opacity="0.55" />
            </pattern>
          </defs>
          <TdcFlags one={one} picture={picture} strip={strip} scale={scale} to={height - 22} />
          {strip.ruler && <CrankRuler ruler={strip.ruler} scale={scale} top={TDC_H} />}
          {placed.map((group) => (
            <g key={group.key}>
              {group.lane && (
                <CamLaneView lane={group.lane} scale={scale} view={restingView()} top={group.at} height={CAM_H} pitchDeg={strip.ruler?.pitch_deg ?? null} />
              )}
              {group.valves.map((valve, i) => (
                <ValveLane
                  key={valve.valve}
                  valve={valve}
                  corners={one.corners.filter((c) => c.valve === valve.valve)}
                  scale={scale}
                  top={group.at + (group.lane ? CAM_H : 0) + VALVE_H * i}
                />
              ))}
            </g>
          ))}
          <PressureLanes one={one} cycle={cycle} scale={scale} top={pressureTop} unit={unit} draft={draft} />
        </svg>
      )}
    </Box>
  );
}

type Group = { key: string; lane: Schemas["CamLane"] | undefined; valves: Schemas["ValveBar"][] };

function heightOf(group: Group): number {
  return (group.lane ? CAM_H : 0) + VALVE_H * group.valves.length;
}

/** The valves of the cylinder under the signal of the cam that moves them. */
function grouped(one: Schemas["FeltView"], strip: Schemas["TurnStrip"]): Group[] {
  const cams = [...new Set(one.valves.map((v) => v.cam))];
  return cams.map((cam) => ({
    key: cam ?? "none",
    lane: withoutCorners(strip.lanes.find((l) => l.cam === cam && l.segment === one.segment) ?? strip.lanes.find((l) => l.cam === cam)),
    valves: one.valves.filter((v) => v.cam === cam),
  }));
}

/** The valves stand in lanes of their own here. */
function withoutCorners(lane: Schemas["CamLane"] | undefined): Schemas["CamLane"] | undefined {
  return lane && { ...lane, corners: [] };
}

function described(one: Schemas["FeltView"]): string {
  return `${one.finding.text}. One cycle of 720 degrees: ${one.corners.map((c) => `${c.valve} ${c.words}`).join(", ") || "no corners"}`;
}

type FlagProps = { one: Schemas["FeltView"]; picture: Schemas["CylinderPicture"]; strip: Schemas["TurnStrip"]; scale: Scale; to: number };

/** TDC lines are solid once speed or pressure has confirmed them; the cylinder's own flag says by what and how well. */
function TdcFlags({ one, picture, strip, scale, to }: FlagProps) {
  const known = picture.index_deg !== null;
  const half = picture.index_u95_deg === null ? "" : ` ± ${picture.index_u95_deg.toFixed(1)}°`;
  const own = strip.tdc.find((line) => line.cylinder === one.cylinder);
  const words = known ? `TDC ${String(one.cylinder)} by ${picture.index_words}${half}` : `TDC ${String(one.cylinder)}`;
  const wide = known ? words.length * 6.6 + 16 : 50;
  const x = own ? scale.x(own.deg) : 0;
  const left = Math.min(Math.max(x - wide / 2, 2), scale.right - wide);
  return (
    <g>
      {strip.tdc.map((line) => {
        const mine = line.cylinder === one.cylinder;
        const at = scale.x(line.deg);
        const hidden = !mine && own && at + 25 > left && at - 25 < left + wide;
        return (
          <g key={line.cylinder}>
            <line x1={at} x2={at} y1="20" y2={to} stroke={ink(mine ? "ink" : "mute")} strokeWidth={mine ? 1.6 : 1} strokeDasharray={strip.tdc_confirmed ? undefined : "2 4"} />
            {!mine && !hidden && (
              <>
                <rect x={at - 25} y="1" width="50" height="19" rx="3" fill={ink("soft")} />
                <SvgText x={at} y="15" textAnchor="middle" size={12} weight={600} fill={ink("ink")}>
                  TDC {line.cylinder}
                </SvgText>
              </>
            )}
          </g>
        );
      })}
      {own && (
        <>
          <rect x={left} y="1" width={wide} height="19" rx="3" fill={ink("ink")} />
          <SvgText x={left + wide / 2} y="15" textAnchor="middle" size={12} weight={650} fill={ink("paper")}>
            {words}
          </SvgText>
        </>
      )}
    </g>
  );
}
