import { Box } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { ink } from "../../app/theme";
import { SvgText, useWidth } from "../../ui";

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
  const right = Math.max(width, 420) - 8;
  const x = (s: number) => LEFT + (s / last) * (right - LEFT);
  const height = test.curves.length * (LANE + GAP) + 20;
  return (
    <Box ref={ref} data-testid="road-curves">
      {width > 0 && (
        <svg width={right + 8} height={height} role="img" aria-label="The drive over time">
          {test.curves.map((curve, i) => (
            <Lane key={curve.quantity} curve={curve} times={test.times_s} top={i * (LANE + GAP)} x={x} />
          ))}
          {[0, 0.25, 0.5, 0.75, 1].map((share) => (
            <SvgText key={share} x={x(share * last)} y={height - 5} textAnchor={share === 1 ? "end" : "middle"} size={11} fill={ink("mute")}>
              {`${String(Math.round(share * last))} s`}
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
  const y = (v: number) => top + 4 + (LANE - 8) * (1 - (v - least) / (most - least));
  const [name, unit] = NAMES[curve.quantity] ?? [curve.quantity, ""];
  const runs: string[] = [];
  let run: string[] = [];
  curve.values.forEach((v, k) => {
    if (v === null) {
      if (run.length > 1) runs.push(run.join(" "));
      run = [];
    } else run.push(`${x(times[k] ?? 0).toFixed(1)} ${y(v).toFixed(1)}`);
  });
  if (run.length > 1) runs.push(run.join(" "));
  return (
    <g>
      <line x1={LEFT} x2={x(times.at(-1) ?? 0)} y1={y(least)} y2={y(least)} stroke={ink("line")} />
      <SvgText x="0" y={top + 18} size={13} weight={650} fill={ink("ink")}>
        {name}
      </SvgText>
      <SvgText x="0" y={top + 34} size={11} fill={ink("mute")}>
        {`to ${most >= 100 ? most.toFixed(0) : most.toPrecision(3)} ${unit}`}
      </SvgText>
      {runs.map((points) => (
        <polyline key={points.slice(0, 20)} points={points} fill="none" stroke={ink("current")} strokeWidth="1.8" />
      ))}
    </g>
  );
}
