/** Ten times closer around one edge, so that a few degrees and their spread can be seen. */
import { Box, CloseButton, Flex, Text } from "@chakra-ui/react";

import { ink } from "../../ui/theme";
import { offsetWords, plusMinus, SvgText } from "../../ui";
import { type Lane, placedEdges, type Scale, teethFromGap, unrolled, zeroOf } from "./strip-geometry";
import type { PhaseView } from "./view";

const W = 330;
const H = 92;
const TIMES = 10;

type Props = { lane: Lane; edge: number; view: PhaseView; scale: Scale; top: number; pitchDeg: number | null };

export function Loupe({ lane, edge: number, view, scale, top, pitchDeg }: Props) {
  const edge = lane.edges.find((e) => e.edge === number);
  if (!edge) return null;
  const color = lane.shaft === "exhaust" ? "exhaust" : "intake";
  const perDeg = scale.perDeg * TIMES;
  const placed = placedEdges(lane, scale.origin, view.cycle).find((e) => e.edge === number);
  const delta = placed ? signed(placed.deg - zeroOf(edge)) : edge.delta_deg;
  const centre = Math.abs(delta) * perDeg < W * 0.7 ? delta / 2 : delta;
  const x = (d: number) => W / 2 + (d - centre) * perDeg;
  const ticks: number[] = [];
  for (let d = Math.ceil(centre - W / 2 / perDeg); d <= centre + W / 2 / perDeg; d++) ticks.push(d);
  const half = lane.total_u95_deg ?? 0;
  const left = Math.min(Math.max(scale.x(unrolled(edge.measured_deg, scale.origin)) - W / 2, scale.left - 4), scale.right - W);
  return (
    <Box
      position="absolute"
      zIndex="2"
      style={{ top, left, width: W + 2 }}
      bg="panel"
      borderWidth="1.5px"
      borderColor="petrol"
      rounded="md"
      shadow="md"
      data-testid="loupe"
      role="region"
      aria-label={`Loupe on ${lane.name}, edge ${number + 1}`}
    >
      <Flex align="center" justify="space-between" pl="3" pr="1">
        <Text fontSize="13px" fontWeight="650">
          {lane.name}, edge {number + 1} {edge.kind}, ×{TIMES}
        </Text>
        <CloseButton size="xs" aria-label="Close the loupe" onClick={() => view.setLoupe(null)} />
      </Flex>
      <svg width={W} height={H} role="img" aria-label={`${offsetWords(delta)} against its reference`}>
        <rect x={x(-half)} y="0" width={2 * half * perDeg} height={H - 20} fill="url(#hatch)" />
        <line x1={x(0)} x2={x(0)} y1="0" y2={H - 20} stroke={ink("mute")} strokeWidth="1.6" strokeDasharray="4 3" />
        {lane.cycle_edges
          .filter((e) => e.edge === number)
          .map((e) => (
            <line
              key={e.cycle}
              x1={x(e.delta_deg)}
              x2={x(e.delta_deg)}
              y1="8"
              y2={H - 20}
              stroke={ink(color)}
              strokeWidth="1.4"
              opacity="0.3"
            />
          ))}
        <line x1={x(delta)} x2={x(delta)} y1="4" y2={H - 20} stroke={ink(color)} strokeWidth="2.6" />
        <line x1="0" x2={W} y1={H - 20} y2={H - 20} stroke={ink("line")} />
        {ticks.map((d) => (
          <g key={d}>
            <line x1={x(d)} x2={x(d)} y1={H - 20} y2={H - (d % 5 === 0 ? 12 : 16)} stroke={ink("mute")} />
            {d % 5 === 0 && (
              <SvgText x={x(d)} y={H - 2} textAnchor="middle" size={11} fill={ink("mute")}>
                {d === 0 ? "ref" : `${d > 0 ? "+" : "−"}${Math.abs(d)}°`}
              </SvgText>
            )}
          </g>
        ))}
      </svg>
      <Text fontSize="13px" px="3" pb="2">
        <b>{lane.offset_deg === null ? "nothing to compare with" : offsetWords(delta)}</b>
        {view.cycle === null ? ` over ${count(lane, number)} cycles` : ` in cycle ${view.cycle}`}, spread{" "}
        {spread(lane, number).toFixed(2)}°, reference {plusMinus(half)}°
        {teethWords(lane, number, pitchDeg)}
      </Text>
    </Box>
  );
}

/** Both ways of counting from the gap, so that neither is taken for the other. */
function teethWords(lane: Lane, edge: number, pitchDeg: number | null): string {
  const after = teethFromGap(lane, edge, pitchDeg, false);
  const before = teethFromGap(lane, edge, pitchDeg, true);
  if (after === null || before === null) return "";
  return `; ${after.toFixed(2)} wheel teeth after tooth 1, ${before.toFixed(2)} before it comes again`;
}

function signed(deg: number): number {
  return ((((deg + 180) % 360) + 360) % 360) - 180;
}

function count(lane: Lane, edge: number): number {
  return lane.cycle_edges.filter((e) => e.edge === edge).length;
}

/** Full width over the cycles: what the eye sees. */
function spread(lane: Lane, edge: number): number {
  const deltas = lane.cycle_edges.filter((e) => e.edge === edge).map((e) => e.delta_deg);
  return deltas.length ? Math.max(...deltas) - Math.min(...deltas) : 0;
}
