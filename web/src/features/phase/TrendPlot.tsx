/** The offset of every cam from cycle to cycle: steps and drifts show here, and when they came. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { curvePath, SvgText, useWidth } from "../../ui";
import { LABEL_PX, type Lane } from "./strip-geometry";

const H = 132;
const TOP = 10;
const BOTTOM = 22;

type Cam = Schemas["CamResult"];
type Props = { cams: Cam[]; lanes: Lane[] };

export function TrendPlot({ cams, lanes }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const drawn = cams.filter((cam) => (cam.per_cycle?.length ?? 0) >= 3);
  if (!drawn.length) return <Box ref={ref} />;
  const points = drawn.flatMap((cam) => cam.per_cycle ?? []);
  const [from, to] = range(points.map((p) => p.time_s), 0.1);
  const [low, high] = range(points.map((p) => p.offset_deg), 1);
  const right = Math.max(width, 340) - 14;
  const x = scaleLinear([from, to], [LABEL_PX, right]);
  const y = scaleLinear([low, high], [TOP, H - BOTTOM]);
  const tick = y.tickFormat(4);
  const compared = drawn.some((cam) => cam.offset_deg !== null && cam.offset_deg !== undefined);
  return (
    <Box ref={ref} mt="4" data-testid="trend">
      <Text fontWeight="650" mb="1">
        {compared ? "Offset from cycle to cycle" : "Place from cycle to cycle, against each cam's own mean"}{" "}
        <Box as="span" color="mute" fontWeight="400" fontSize="13px">
          late is down
        </Box>
      </Text>
      <Legend cams={drawn} lanes={lanes} />
      {width > 0 && (
        <svg width={width} height={H} role="img" aria-label={drawn.map(trendWords).join("; ")} style={{ display: "block" }}>
          {y.ticks(4).map((deg) => (
            <g key={deg}>
              <line x1={LABEL_PX} x2={right} y1={y(deg)} y2={y(deg)} stroke={ink("line")} strokeWidth={deg === 0 ? 1.6 : 0.8} />
              <SvgText x={LABEL_PX - 8} y={y(deg) + 4} textAnchor="end" size={11} fill={ink("mute")}>
                {deg === 0 ? "0°" : `${tick(Math.abs(deg))}° ${deg > 0 ? "late" : "early"}`}
              </SvgText>
            </g>
          ))}
          {[from, (from + to) / 2, to].map((s, i) => (
            <SvgText key={s} x={x(s)} y={H - 6} textAnchor={i === 0 ? "start" : i === 1 ? "middle" : "end"} size={11} fill={ink("mute")}>
              {s.toFixed(1)} s
            </SvgText>
          ))}
          {drawn.map((cam) => (
            <CamTrend key={`${cam.cam} ${cam.segment ?? ""}`} cam={cam} lane={lanes.find((l) => l.cam === cam.cam)} x={x} y={y} />
          ))}
        </svg>
      )}
    </Box>
  );
}

function colorOf(lane: Lane | undefined): string {
  return ink(lane?.shaft === "exhaust" ? "exhaust" : "intake");
}

/** The second bank is dashed, so that colour alone tells nothing. */
function dashOf(lane: Lane | undefined): string | undefined {
  return lane && lane.bank > 1 ? "5 3" : undefined;
}

function Legend({ cams, lanes }: Props) {
  return (
    <Flex gap="4" wrap="wrap" fontSize="13px">
      {cams.map((cam) => {
        const lane = lanes.find((l) => l.cam === cam.cam);
        return (
          <Flex key={`${cam.cam} ${cam.segment ?? ""}`} align="center" gap="1.5">
            <svg width="24" height="8" aria-hidden="true">
              <line x1="0" x2="24" y1="4" y2="4" stroke={colorOf(lane)} strokeWidth="2" strokeDasharray={dashOf(lane)} />
            </svg>
            {lane?.name ?? cam.cam}
            {new Set(cams.map((c) => c.segment)).size > 1 && `, ${cam.segment ?? ""}`}
          </Flex>
        );
      })}
    </Flex>
  );
}

type TrendProps = { cam: Cam; lane: Lane | undefined; x: (s: number) => number; y: (deg: number) => number };

function CamTrend({ cam, lane, x, y }: TrendProps) {
  const points = cam.per_cycle ?? [];
  const color = colorOf(lane);
  const line = curvePath(points.map((p) => p.offset_deg), (i) => x(points[i]?.time_s ?? 0), y);
  const step = cam.step;
  return (
    <g>
      <path d={line} fill="none" stroke={color} strokeWidth="1.4" strokeDasharray={dashOf(lane)} />
      {points.length < 120 && points.map((p) => <circle key={p.time_s} cx={x(p.time_s)} cy={y(p.offset_deg)} r="2.6" fill={color} />)}
      {step && (
        <g>
          <line x1={x(step.time_s)} x2={x(step.time_s)} y1={TOP} y2={H - BOTTOM} stroke={ink("late")} strokeWidth="1.6" strokeDasharray="4 3" />
          <SvgText x={x(step.time_s) + 5} y={TOP + 9} size={11.5} weight={650} fill={ink("late")}>
            {`moves at ${step.time_s.toFixed(1)} s`}
          </SvgText>
        </g>
      )}
    </g>
  );
}

function trendWords(cam: Cam): string {
  const step = cam.step ? `, moves from ${cam.step.before_deg.toFixed(1)} to ${cam.step.after_deg.toFixed(1)} degrees at ${cam.step.time_s.toFixed(1)} s` : ", no step";
  return `${cam.cam}${step}`;
}

/** Smallest to largest, at least `least` wide, with a little room. */
function range(values: number[], least: number): [number, number] {
  const low = Math.min(...values);
  const high = Math.max(...values);
  const room = Math.max(0.12 * (high - low), (least - (high - low)) / 2);
  return [low - room, high + room];
}
