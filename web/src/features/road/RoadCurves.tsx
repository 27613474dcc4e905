import { Box } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { curvePath, SvgText, useWidth } from "../../ui";

const [LEFT, LANE, GAP] = [124, 46, 6];

const NAMES: Record<string, [string, string]> = {
  rpm: ["Speed", "rpm"],
  throttle_percent: ["Throttle", "%"],
  load_percent: ["Calculated load", "%"],
  air_g_s: ["Air flow", "g/s"],
  manifold_kpa: ["Manifold", "kPa"],
};

/** The drive over time: a lane for each of speed, throttle, load, air and manifold pressure. */
export function RoadCurves({ test }: { test: Schemas["RoadTestView"] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const last = test.times_s.at(-1) ?? 1;
  const right = Math.max(width, 340) - 8;
  const x = scaleLinear([0, last], [LEFT, right]);
  const height = test.curves.length * (LANE + GAP) + 20;
  return (
    <Box ref={ref} data-testid="road-curves">
      {width > 0 && (
        <svg width={right + 8} height={height} role="img" aria-label="The drive over time">
          {test.curves.map((curve, i) => (
            <Lane key={curve.quantity} curve={curve} times={test.times_s} top={i * (LANE + GAP)} x={x} />
          ))}
          {x.ticks(6).map((s) => (
            <SvgText key={s} x={x(s)} y={height - 5} textAnchor={s > 0.97 * last ? "end" : "middle"} size={11} fill={ink("mute")}>
              {`${String(s)} s`}
            </SvgText>
          ))}
        </svg>
      )}
    </Box>
  );
}

type LaneProps = { curve: Schemas["RoadCurve"]; times: number[]; top: number; x: (s: number) => number };

function Lane({ curve, times, top, x }: LaneProps) {
  const known = curve.values.filter((v): v is number => v !== null);
  const [least, most] = [Math.min(...known, 0), Math.max(...known, 1)];
  const y = scaleLinear([least, most], [top + LANE - 4, top + 4]);
  const [name, unit] = NAMES[curve.quantity] ?? [curve.quantity, ""];
  return (
    <g>
      <line x1={LEFT} x2={x(times.at(-1) ?? 0)} y1={y(least)} y2={y(least)} stroke={ink("line")} />
      <SvgText x="0" y={top + 18} size={13} weight={650} fill={ink("ink")}>
        {name}
      </SvgText>
      <SvgText x="0" y={top + 34} size={11} fill={ink("mute")}>
        {`to ${most >= 100 ? most.toFixed(0) : most.toPrecision(3)} ${unit}`}
      </SvgText>
      <path d={curvePath(curve.values, (k) => x(times[k] ?? 0), y)} fill="none" stroke={ink("current")} strokeWidth="1.8" />
    </g>
  );
}
