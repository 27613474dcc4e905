/** The sweep test: the cam over time beside its command, both stops as lines, the reference's travel hatched. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { sweepsQuery } from "../../api/queries";
import { curvePath, ErrorNote, offsetWords, PanelTitle, plusMinus, SvgText, useWidth, Waiting } from "../../ui";
import { WhyMark } from "../why";
import { ink } from "../../ui/theme";
import { CommandForm } from "./CommandForm";
import { SolenoidSwap } from "./SolenoidSwap";

const [HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [236, 78, 92, 12, 40];

type Props = { jobId: number; capture: Schemas["ImportedCapture"]; phasers: Schemas["PhaserResult"][]; cams: { id: string; name: string }[]; captures: Schemas["ImportedCapture"][] };

export function SweepPanel({ jobId, capture, phasers, cams, captures }: Props) {
  const sweeps = useQuery(sweepsQuery(capture.id));
  return (
    <Box data-testid="sweep-panel">
      <PanelTitle>Phaser sweep</PanelTitle>
      {sweeps.isPending && <Waiting>Following the cam</Waiting>}
      {sweeps.isError && <ErrorNote error={sweeps.error} onRetry={() => void sweeps.refetch()} />}
      {sweeps.data?.length === 0 && (
        <Text fontSize="13.5px" maxW="720px">
          {cams.length > 0
            ? "No phaser was driven in this capture. Record the cam idling for two seconds at rest, drive the solenoid for two seconds from a fused supply or the scan tool, let go, and record two more: put a lead on the solenoid's wire, and set the phasers to “sweep”."
            : "No cam of this profile has a phaser."}
        </Text>
      )}
      {sweeps.data?.map((sweep) => {
        const result = phasers.find((one) => one.cam === sweep.cam);
        return (
          <Box key={sweep.cam} mb="3">
            <Text fontSize="15px" fontWeight="620" maxW="780px" data-testid="sweep-words">
              {sweep.text}
              <WhyMark id={`${String(capture.id)}/phaser/${sweep.cam}`} about={`Phaser of ${sweep.cam}`} />
            </Text>
            <SweepPlot sweep={sweep} />
            {result && <Figures result={result} />}
          </Box>
        );
      })}
      {cams.length > 0 && <CommandForm jobId={jobId} capture={capture} cams={cams} />}
      {cams.length > 0 && <SolenoidSwap jobId={jobId} phasers={phasers} captures={captures} />}
    </Box>
  );
}

function SweepPlot({ sweep }: { sweep: Schemas["SweepPicture"] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const right = Math.max(width, 340) - RIGHT;
  const [low, high] = [sweep.travel_low_deg, sweep.travel_high_deg];
  const values = [...sweep.places_deg, low ?? sweep.low_deg, high ?? sweep.high_deg];
  const room = 0.08 * (Math.max(...values) - Math.min(...values)) + 1;
  const y = scaleLinear([Math.min(...values) - room, Math.max(...values) + room], [TOP, HEIGHT - BOTTOM]);
  const x = scaleLinear([sweep.times_s[0] ?? 0, sweep.times_s.at(-1) ?? 1], [LEFT, right]);
  const stops = [...new Set([sweep.low_deg, sweep.high_deg])];
  return (
    <Box ref={ref} maxW="860px" mt="1">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`${sweep.name} over time: ${sweep.text}`} style={{ display: "block" }}>
          <defs>
            <pattern id={`hatch-${sweep.cam}`} width="7" height="7" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
              <line x1="0" x2="0" y1="0" y2="7" stroke={ink("line")} strokeWidth="2.5" />
            </pattern>
          </defs>
          {low !== null && high !== null && (
            <rect x={LEFT} width={right - LEFT} y={y(low)} height={Math.max(1, y(high) - y(low))} fill={`url(#hatch-${sweep.cam})`} />
          )}
          {y.ticks(5).map((deg) => (
            <SvgText key={deg} x={LEFT - 8} y={y(deg) + 4} textAnchor="end" size={11.5} fill={ink("mute")}>
              {deg === 0 ? "0°" : `${String(Math.abs(deg))}° ${deg > 0 ? "late" : "early"}`}
            </SvgText>
          ))}
          {stops.map((deg) => (
            <g key={deg}>
              <line x1={LEFT} x2={right} y1={y(deg)} y2={y(deg)} stroke={ink("ink")} strokeWidth="1.2" strokeDasharray="5 3" />
              <SvgText x={right + 5} y={y(deg) + 4} size={12} weight={650} fill={ink("ink")}>
                {sweep.absolute ? offsetWords(deg, sweep.stop_u95_deg) : `${deg.toFixed(1)}°`}
              </SvgText>
            </g>
          ))}
          <path d={curvePath(sweep.places_deg, (i) => x(sweep.times_s[i] ?? 0), y)} fill="none" stroke={ink(sweep.shaft === "exhaust" ? "exhaust" : "intake")} strokeWidth="2" />
          {sweep.places_deg.length < 260 &&
            sweep.places_deg.map((deg, i) => <circle key={i} cx={x(sweep.times_s[i] ?? 0)} cy={y(deg)} r="2.2" fill={ink(sweep.shaft === "exhaust" ? "exhaust" : "intake")} />)}
          {sweep.driven.map((span) => (
            <g key={span.from_s}>
              <rect x={x(span.from_s)} width={Math.max(2, x(Math.min(span.to_s, sweep.times_s.at(-1) ?? span.to_s)) - x(span.from_s))} y={HEIGHT - BOTTOM + 4} height="12" fill={ink("petrol")} />
              <SvgText x={x(span.from_s) + 4} y={HEIGHT - BOTTOM + 14} size={11} fill={ink("onPetrol")}>
                {span.share < 0.99 ? `driven ${(100 * span.share).toFixed(0)} %` : "driven"}
              </SvgText>
            </g>
          ))}
          {x.ticks(6).map((s) => (
            <SvgText key={s} x={x(s)} y={HEIGHT - 6} textAnchor="middle" size={11.5} fill={ink("mute")}>
              {s} s
            </SvgText>
          ))}
        </svg>
      )}
      <Text fontSize="13px" color="mute">
        Late is down. Dashed: both ends of its travel. {low !== null ? "Hatched: where the profile has its travel." : "The profile does not say how far it goes."}
      </Text>
    </Box>
  );
}

function Figures({ result }: { result: Schemas["PhaserResult"] }) {
  const dead = result.dead_time_s;
  const items: [string, string][] = [
    ["Answers after", dead === null || dead === undefined ? "not known: no command was recorded, or it starts too softly" : `${Math.max(0, dead).toFixed(2)} s ${plusSeconds(result.dead_time_u95_s)}`],
    ["Mean rate", result.rate_deg_per_s === null || result.rate_deg_per_s === undefined ? "–" : `${result.rate_deg_per_s.toFixed(0)}°/s`],
    ["Travel", result.swept_deg === null ? "–" : `${Math.abs(result.swept_deg).toFixed(1)}° ${plusMinus(result.stop_u95_deg ?? 0.5)}°${result.range_deg ? ` of ${String(result.range_deg)}°` : ""}`],
    ["Comes back", result.hysteresis_deg === null || result.hysteresis_deg === undefined ? "not in the record" : `${offsetWords(result.hysteresis_deg)} of where it began`],
  ];
  for (const beside of result.beside ?? []) items.push([`${beside.channel}, at rest and driven`, `${beside.at_rest.toFixed(2)} and ${beside.driven.toFixed(2)} ${beside.unit}`]);
  return (
    <Box>
      <Flex as="dl" gap="5" wrap="wrap" mt="1.5" fontSize="13.5px">
        {items.map(([name, value]) => (
          <Box key={name}>
            <Text as="dt" color="mute" fontSize="13px">
              {name}
            </Text>
            <Text as="dd" fontWeight="620" css={{ fontVariantNumeric: "tabular-nums" }}>
              {value}
            </Text>
          </Box>
        ))}
      </Flex>
      {result.advice && (
        <Box borderLeftWidth="3px" borderColor="late" pl="3" mt="2" fontSize="13.5px" maxW="720px" data-testid="sweep-advice">
          {result.advice}
        </Box>
      )}
    </Box>
  );
}

function plusSeconds(u95: number | null | undefined): string {
  return u95 === null || u95 === undefined ? "" : `± ${u95.toFixed(u95 < 0.095 ? 3 : 2)} s`;
}
