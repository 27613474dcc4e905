/** The whole recording so far against how long a burst may last, with its marks. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import type { Schemas } from "../../api/client";
import { recordingStripQuery } from "../../api/queries";
import { useWidth } from "../../ui";

type View = Schemas["RecordingView"];

const HEIGHT = 46;

export function SoFar({ jobId, view }: { jobId: number; view: View }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const strip = useQuery(recordingStripQuery(jobId, 0.8));
  const burst = view.most_s <= 30;
  const whole = burst ? view.most_s : Math.max(20, Math.ceil((view.seconds * 1.25) / 20) * 20);
  const x = (s: number) => (s / whole) * width;
  const path = strip.data ? outline(strip.data, width / whole) : "";
  const last = view.marks.at(-1);
  return (
    <Flex gap="3" align="center" mt="1" data-testid="so-far">
      <Box w="96px" flex="none">
        <Text fontWeight="650" fontSize="13.5px">
          So far
        </Text>
        <Text fontSize="13px" color="mute" fontVariantNumeric="tabular-nums">
          {view.seconds.toFixed(1)} s{burst ? ` of ${String(view.most_s)} s` : ""}
        </Text>
      </Box>
      <Box ref={box} flex="1" minW="0" h={`${String(HEIGHT)}px`} position="relative" borderWidth="1px" borderStyle="dashed" borderColor="line" rounded="sm">
        <svg width={width} height={HEIGHT} aria-hidden="true" style={{ position: "absolute", left: 0, top: 0 }}>
          <rect x={0} y={0} width={x(view.seconds)} height={HEIGHT} fill="var(--chakra-colors-soft)" />
          <path d={path} fill="none" stroke="var(--chakra-colors-current)" strokeWidth={1.2} />
          <line x1={x(view.seconds)} x2={x(view.seconds)} y1={0} y2={HEIGHT} stroke="var(--chakra-colors-petrol)" strokeWidth={2} />
          {view.marks.map((mark, i) => (
            <g key={i}>
              <line x1={x(mark.t_s)} x2={x(mark.t_s)} y1={0} y2={HEIGHT} stroke="var(--chakra-colors-ink)" strokeWidth={1.5} />
              <text x={x(mark.t_s) + 4} y={13} fontSize={13} fontWeight={700} fill="var(--chakra-colors-ink)">
                {i + 1}
              </text>
            </g>
          ))}
        </svg>
      </Box>
      <Text w="252px" flex="none" fontSize="13px" display={{ base: "none", md: "block" }} aria-live="polite">
        {last ? `Mark ${String(view.marks.length)} at ${last.t_s.toFixed(2)} s${last.text ? `: ${last.text}` : ""}` : burst ? "Bursts of ten seconds at most, then a rest; kept as it comes" : "Kept as it comes, also if this page is closed"}
      </Text>
    </Flex>
  );
}

function outline(strip: Schemas["StripView"], perSecond: number): string {
  const low = Math.min(...strip.so_far.low.filter((value) => value !== null));
  const span = Math.max(Math.max(...strip.so_far.high.filter((value) => value !== null)) - low, 1e-6);
  const y = (value: number) => HEIGHT - 4 - ((value - low) / span) * (HEIGHT - 8);
  let path = "";
  strip.so_far.high.forEach((top, i) => {
    const bottom = strip.so_far.low[i] ?? null;
    if (top === null || bottom === null) return;
    const x = i * strip.so_far_step_s * perSecond;
    path += `${path ? "L" : "M"}${x.toFixed(1)},${y(top).toFixed(1)}L${x.toFixed(1)},${y(bottom).toFixed(1)}`;
  });
  return path;
}
