/** One corner five times larger: where the pressure leaves the line of shut valves. */
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";

import type { Schemas } from "../../api/client";
import { plusMinus, pressureFigure, type PressureUnit, SvgText } from "../../ui";
import { type Draft, nameOf } from "./draft";
import { ink } from "../../ui/theme";

const LEFT = 34;
const SIZES = { usual: [228, 128], large: [460, 260] } as const;
const REACH_DEG = 45;

type Props = {
  corner: Draft;
  one: Schemas["FeltView"];
  cycle: number | null;
  unit: PressureUnit;
  large: boolean;
  marking: boolean;
  /** A tap: sets the mark there while one is set, else makes the loupe larger. */
  onTap: (angleDeg: number) => void;
};

export function CornerLoupe({ corner, one, cycle, unit, large, marking, onTap }: Props) {
  const [WIDTH, HEIGHT] = SIZES[large ? "large" : "usual"];
  const bar = cycle === null ? one.mean.bar : (one.every[cycle] ?? one.mean.bar);
  const about = (deg: number) => ((((deg - corner.strip_deg) % 720) + 1080) % 720) - 360;
  const points = one.mean.deg
    .map((deg, i): [number, number] => [about(deg), bar[i] ?? 0])
    .filter(([off]) => Math.abs(off) <= REACH_DEG)
    .sort((a, b) => a[0] - b[0]);
  const values = points.map(([, v]) => v);
  const [least, most] = [Math.min(...values, -0.05), Math.min(Math.max(...values, 0.05), 1.5)];
  const x = scaleLinear([-REACH_DEG, REACH_DEG], [LEFT, WIDTH - 4]);
  const y = scaleLinear([least - 0.05, most + 0.05], [HEIGHT - 16, 8]).clamp(true);
  const drawn = line().digits(1).x(([off]) => x(off)).y(([, v]) => y(v));
  const profile = corner.profile_strip_deg === null ? null : about(corner.profile_strip_deg);
  const height = (corner.bar - least) / Math.max(0.1, most - least);
  return (
    <Box data-testid={`loupe-${corner.valve}${corner.what === (corner.valve === "intake" ? "closes" : "opens") ? "" : `-${corner.what}`}`}>
      <Text fontWeight="650" fontSize="13.5px">
        {nameOf(corner)}
        {(marking || corner.byHand) && " by hand"}
      </Text>
      <Text fontSize="13px" color="mute">
        {corner.angle_deg.toFixed(0)}° {plusMinus(corner.u95_deg)}° after its TDC; {large ? "ten" : "five"} times larger
      </Text>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label={nameOf(corner)} onClick={(event) => onTap(corner.angle_deg + x.invert(event.nativeEvent.offsetX))} style={{ display: "block", maxWidth: "100%", cursor: marking ? "crosshair" : "zoom-in", background: ink("panel"), border: `1px solid ${ink("line")}`, borderRadius: "4px" }}>
        <line x1={LEFT} x2={WIDTH - 4} y1={y(0)} y2={y(0)} stroke={ink("line")} />
        <SvgText x={LEFT - 4} y={y(0) + 4} size={11} textAnchor="end" fill={ink("mute")}>
          0
        </SvgText>
        <SvgText x={LEFT - 4} y={14} size={11} textAnchor="end" fill={ink("mute")}>
          {pressureFigure(most, unit)}
        </SvgText>
        <rect x={x(-corner.u95_deg)} y="6" width={x(corner.u95_deg) - x(-corner.u95_deg)} height={HEIGHT - 22} fill={ink("pressure")} opacity="0.12" />
        {profile !== null && Math.abs(profile) < REACH_DEG && (
          <line x1={x(profile)} x2={x(profile)} y1="6" y2={HEIGHT - 16} stroke={ink("mute")} strokeDasharray="3 2.5" strokeWidth="1.3" />
        )}
        <line x1={x(0)} x2={x(0)} y1="6" y2={HEIGHT - 16} stroke={ink("pressure")} strokeWidth="1" strokeDasharray={marking || corner.byHand ? "2 2" : undefined} />
        <path d={drawn(points) ?? ""} fill="none" stroke={ink("pressure")} strokeWidth="2.2" />
        <circle cx={x(0)} cy={y(corner.bar)} r="5" fill={ink(marking || corner.byHand ? "panel" : "pressure")} stroke={ink("pressure")} strokeWidth="1.6" opacity={height > 1 ? 0 : 1} />
        {[-30, 0, 30].map((off) => (
          <SvgText key={off} x={x(off)} y={HEIGHT - 4} size={11} textAnchor="middle" fill={ink("mute")}>
            {(corner.angle_deg + off).toFixed(0)}°
          </SvgText>
        ))}
      </svg>
    </Box>
  );
}
