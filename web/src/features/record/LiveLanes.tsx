/** The last moment of every channel, drawn as it comes, with its state in words beside it. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import type { Schemas } from "../../api/client";
import { recordingStripQuery } from "../../api/queries";
import { useWidth } from "../../ui";
import { laneColour } from "./words";

type View = Schemas["RecordingView"];
type Strip = Schemas["StripView"];

const SHOWN_S = 0.8;

export function LiveLanes({ jobId, view }: { jobId: number; view: View }) {
  const strip = useQuery(recordingStripQuery(jobId, SHOWN_S));
  const height = view.lanes.length > 5 ? 42 : 62;
  return (
    <Box data-testid="live-lanes">
      {view.lanes.map((lane, i) => (
        <Flex key={lane.column} gap="3" mb="1.5" align="center" data-testid="live-lane" wrap={{ base: "wrap", md: "nowrap" }}>
          <Box w={{ base: "100%", md: "96px" }} flex="none">
            <Text fontWeight="650" fontSize="13.5px" color={laneColour(lane)} lineHeight="1.25">
              {lane.name}
            </Text>
          </Box>
          <LaneCanvas strip={strip.data} row={i} colour={laneColour(lane)} height={height} />
          <Flex w={{ base: "100%", md: "252px" }} flex="none" gap="2" align="flex-start">
            <Box w="11px" h="11px" rounded="full" mt="4px" flex="none" bg={lane.good ? "petrol" : "transparent"} borderWidth="2px" borderColor={lane.good ? "petrol" : "late"} />
            <Box>
              <Text fontSize="13.5px" fontWeight="600" color={lane.good ? "ink" : "late"} lineHeight="1.25" fontVariantNumeric="tabular-nums">
                {lane.words}
              </Text>
              <Text fontSize="13px" color="mute" lineHeight="1.25">
                {lane.beside}
              </Text>
            </Box>
          </Flex>
        </Flex>
      ))}
    </Box>
  );
}

type CanvasProps = { strip: Strip | undefined; row: number; colour: string; height: number };

function LaneCanvas({ strip, row, colour, height }: CanvasProps) {
  const [box, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    const lane = strip?.lanes[row];
    if (!context || !lane || width < 10) return;
    const scale = window.devicePixelRatio || 1;
    context.setTransform(scale, 0, 0, scale, 0, 0);
    context.clearRect(0, 0, width, height);
    context.strokeStyle = getComputedStyle(canvas.current ?? document.body).color;
    context.lineWidth = 1.3;
    const low = Math.min(...lane.low.filter((value) => value !== null));
    const high = Math.max(...lane.high.filter((value) => value !== null));
    const span = Math.max(high - low, 1e-6);
    const y = (value: number) => height - 4 - ((value - low) / span) * (height - 8);
    // "Now" is on the right: what is not there yet is empty on the left.
    const step = width / (SHOWN_S / strip.step_s);
    context.beginPath();
    lane.high.forEach((top, i) => {
      const bottom = lane.low[i] ?? null;
      if (top === null || bottom === null) return;
      const x = width - (lane.high.length - i) * step;
      context.lineTo(x, y(top));
      context.lineTo(x, y(bottom));
    });
    context.stroke();
  }, [strip, row, width, height]);
  const scale = typeof window === "undefined" ? 1 : window.devicePixelRatio || 1;
  return (
    <Box ref={box} flex="1" minW={{ base: "100%", md: "0" }} bg="panel" h={`${String(height)}px`} color={colour} aria-hidden="true">
      <canvas ref={canvas} width={width * scale} height={height * scale} style={{ width, height, color: "inherit" }} />
    </Box>
  );
}
