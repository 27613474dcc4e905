/** Breathing while cranking: each pulse channel over 720 degrees beside what it would be if all cylinders were alike. */
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { curvePath, SvgText, useWidth } from "../../ui";
import { WhyMark } from "../why";

const [LEFT, LANE, HEAD] = [124, 92, 24];

const NAMES: Record<string, string> = { intake_pulse: "Intake", exhaust_pulse: "Exhaust", crankcase_pulse: "Crankcase" };

const MANIFOLD_WORDS: Record<string, string> = {
  sucks: "sucks, as it should",
  pushes: "pushes back: valves far out of time",
  neither: "neither sucks nor pushes",
  back_pressure: "stands under pressure",
  free: "is free",
};

type Props = { captureId: number; view: Schemas["CompressionView"]; breathing: Schemas["BreathingView"] };

export function Breathing({ captureId, view, breathing }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  if (breathing.pulses.length === 0 && breathing.manifolds.length === 0) return null;
  const right = Math.max(width, 340) - 8;
  const x = scaleLinear([breathing.from_deg, breathing.from_deg + 720], [LEFT, right]);
  const height = HEAD + LANE * breathing.pulses.length + 6;
  return (
    <Box as="section" mt="5" pt="3" borderTopWidth="1px" borderColor="line" aria-label="Breathing" data-testid="breathing">
      <Text as="h2" fontSize="20px" fontWeight="680">
        Breathing while cranking
      </Text>
      {breathing.pulses.flatMap((curve) => curve.words).map((words) => (
        <Text key={words} fontWeight="600" maxW="820px">
          {words}
        </Text>
      ))}
      {breathing.pulses.every((curve) => curve.words.length === 0) && breathing.pulses.length > 0 && (
        <Text fontWeight="600">All cylinders breathe alike</Text>
      )}
      {breathing.manifolds.map((m) => (
        <Text key={m.channel}>
          The {m.place} {MANIFOLD_WORDS[m.state]}: {(1000 * m.mean_bar).toFixed(0)} ± {(1000 * m.u95_bar).toFixed(0)} mbar
          <WhyMark id={`${String(captureId)}/manifold/${m.channel}`} about={`Mean pressure of the ${m.place}`} />
        </Text>
      ))}
      <Box ref={ref}>
        {width > 0 && breathing.pulses.length > 0 && (
          <svg width={right + 8} height={height} role="img" aria-label="Breathing pulses over one cycle of 720 degrees">
            {view.tdcs.map((tdc) => (
              <g key={tdc.cylinder}>
                <line x1={x(tdc.deg)} x2={x(tdc.deg)} y1={HEAD - 4} y2={height - 4} stroke={ink("mute")} strokeDasharray="4 3" opacity="0.5" />
                <SvgText x={x(tdc.deg)} y="15" textAnchor="middle" size={13} weight={650} fill={ink("mute")}>
                  {view.named ? String(tdc.cylinder) : "TDC"}
                </SvgText>
              </g>
            ))}
            {breathing.pulses.map((curve, i) => (
              <Lane key={curve.result.channel} curve={curve} breathing={breathing} top={HEAD + LANE * i} x={x} />
            ))}
          </svg>
        )}
      </Box>
      {breathing.pulses.map((curve) => (
        <Text key={curve.result.channel} fontSize="13px" color="mute">
          {NAMES[curve.result.role]}: {details(curve.result)}
        </Text>
      ))}
    </Box>
  );
}

function details(result: Schemas["PulseResult"]): string {
  const share = (v: number | null | undefined) => (100 * (v ?? 0)).toFixed(0);
  const parts = [`${String(result.cycles)} cycles`, `${share(result.random_share)} % at random from cycle to cycle`];
  if (typeof result.delay_s === "number") {
    const ms = (s: number) => (1000 * s).toFixed(0);
    parts.push(`delay to the sensor ${ms(result.delay_s)} ± ${ms(result.delay_u95_s ?? 0)} ms`);
  }
  const each = result.cylinders
    .filter((c) => c.relative !== null)
    .map((c) => `${String(c.cylinder)}: ${share(c.relative)}${c.state === "good" ? "" : c.state === "unknown" ? " (unsure)" : ` (${c.state})`}`);
  if (each.length) parts.push(`own pulse in % of the usual ${each.join(", ")}`);
  return parts.join("; ");
}

type LaneProps = {
  curve: Schemas["PulseCurve"];
  breathing: Schemas["BreathingView"];
  top: number;
  x: (deg: number) => number;
};

function Lane({ curve, breathing, top, x }: LaneProps) {
  const every = [...curve.values, ...curve.usual];
  const [least, most] = [Math.min(...every), Math.max(...every)];
  const y = scaleLinear([least, Math.max(most, least + 1e-12)], [top + LANE - 8, top + 6]);
  const path = (values: number[]) => curvePath(values, (k) => x(breathing.from_deg + breathing.step_deg * (k + 0.5)), y);
  return (
    <g>
      <SvgText x="0" y={top + 24} size={13} weight={650} fill={ink("ink")}>
        {NAMES[curve.result.role] ?? curve.result.role}
      </SvgText>
      <SvgText x="0" y={top + 41} size={11} fill={ink("mute")}>
        dashed: all alike
      </SvgText>
      <path d={path(curve.usual)} fill="none" stroke={ink("mute")} strokeWidth="1.5" strokeDasharray="5 4" />
      <path d={path(curve.values)} fill="none" stroke={ink("petrol")} strokeWidth="2" />
      {(curve.result.odd ?? []).map((odd) => {
        const k = Math.round((odd.at_deg - breathing.from_deg) / breathing.step_deg - 0.5);
        return (
          <circle key={odd.at_deg} cx={x(odd.at_deg)} cy={y(curve.values[k] ?? 0)} r="6" fill="none" stroke={ink("late")} strokeWidth="2.5">
            <title>{odd.suspects.map((s) => `Cylinder ${String(s.cylinder)}: ${(100 * s.chance).toFixed(0)} in 100, ${s.words}`).join("\n")}</title>
          </circle>
        );
      })}
    </g>
  );
}
