/** Turning a distributor or sync drive: the offset in large figures, which way to turn, every reading against its window. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { client, type Schemas, taken } from "../../api/client";
import { ErrorNote, QuietButton, useKeys, useWidth } from "../../ui";
import { signed } from "./words";

type Adjusting = Schemas["AdjustingView"];

const HEIGHT = 110;

export function AdjustPanel({ jobId, adjusting }: { jobId: number; adjusting: Adjusting }) {
  const [turned, setTurned] = useState(0);
  const turn = useMutation({
    mutationFn: (sync_deg: number) => taken(client.PUT("/api/jobs/{job_id}/recording/turn", { params: { path: { job_id: jobId } }, body: { sync_deg } })),
  });
  const by = (deg: number) => {
    const to = Math.max(-60, Math.min(60, turned + deg));
    setTurned(to);
    turn.mutate(to);
  };
  useKeys({ ArrowLeft: () => by(-1), ArrowRight: () => by(1) });
  return (
    <Box bg="panel" borderWidth="1px" borderColor="line" rounded="md" px="4" py="3" mb="3" data-testid="adjusting">
      <Flex gap="6" align="baseline" wrap="wrap">
        <Text fontSize="46px" fontWeight="720" lineHeight="1.1" fontVariantNumeric="tabular-nums" color={adjusting.where === "in" ? "ink" : "late"} data-testid="adjusting-now">
          {signed(adjusting.mean_deg)}
        </Text>
        <Text fontSize="14px" color="mute">
          {adjusting.u95_deg === null ? "" : `± ${adjusting.u95_deg.toFixed(2)}°`}
          {adjusting.jitter_deg === null ? "" : `, swings by ${adjusting.jitter_deg.toFixed(2)}°`} · crank degrees; the body turns half as many
        </Text>
      </Flex>
      <Text fontSize="18px" fontWeight="620" aria-live="polite">
        {adjusting.words}
      </Text>
      {adjusting.spark_moves !== null && <Text fontSize="14px">{adjusting.spark_moves ? "The spark moves with it: set the timing afterwards." : "The spark does not move with it."}</Text>}
      <Readings adjusting={adjusting} />
      <Flex gap="2" mt="2" align="center" wrap="wrap">
        <Text fontSize="13px" color="mute">
          The simulated drive, turned by hand to {turned.toFixed(0)}°
        </Text>
        <QuietButton onClick={() => by(-1)} hint="←">
          Earlier
        </QuietButton>
        <QuietButton onClick={() => by(1)} hint="→">
          Later
        </QuietButton>
      </Flex>
      {turn.error && <ErrorNote error={turn.error} onClose={turn.reset} />}
    </Box>
  );
}

function Readings({ adjusting }: { adjusting: Adjusting }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const values = adjusting.readings;
  const reach = Math.max(adjusting.window_deg * 1.6, ...values.map(Math.abs), 1);
  const y = (deg: number) => HEIGHT / 2 - (deg / reach) * (HEIGHT / 2 - 6);
  const x = (i: number) => 44 + ((width - 52) * (i + 1)) / Math.max(20, values.length);
  return (
    <Box ref={box} mt="1.5">
      <svg width={width} height={HEIGHT} role="img" aria-label="Readings so far against the window">
        <rect x={44} width={Math.max(0, width - 52)} y={y(adjusting.window_deg)} height={y(-adjusting.window_deg) - y(adjusting.window_deg)} fill="var(--chakra-colors-petrol-soft)" />
        <line x1={44} x2={width - 8} y1={y(0)} y2={y(0)} stroke="var(--chakra-colors-line)" />
        {[adjusting.window_deg, 0, -adjusting.window_deg].map((deg) => (
          <text key={deg} x={38} y={y(deg) + 4} textAnchor="end" fontSize={12} fill="var(--chakra-colors-mute)">
            {deg === 0 ? "0°" : `${Math.abs(deg).toFixed(1)}°`}
          </text>
        ))}
        {values.map((deg, i) => (
          <circle key={i} cx={x(i)} cy={y(deg)} r={3} fill="var(--chakra-colors-ink)" />
        ))}
      </svg>
    </Box>
  );
}
