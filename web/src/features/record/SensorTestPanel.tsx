/** A sensor tested on a stand: its timeline beside a healthy one's, over temperature, with the verdict and its limits. */
import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import type { Schemas } from "../../api/client";
import { sensorTestQuery } from "../../api/queries";
import { ErrorNote, PanelTitle, useWidth, Waiting } from "../../ui";

type Test = Schemas["SensorTest"];
type Timeline = Schemas["TimelineView"];

const ROW = 34;
const LEFT = 110;
const FILLS: Record<string, string> = { good: "petrol", shrinking: "current", erratic: "exhaust", flat: "late" };

export function SensorTestPanel({ captureId, name }: { captureId: number; name: string }) {
  const test = useQuery(sensorTestQuery(captureId));
  if (test.isPending) return <Waiting>Reading the sensor</Waiting>;
  if (test.isError) return <ErrorNote error={test.error} />;
  return (
    <Box my="4" data-testid="sensor-test">
      <PanelTitle note={name}>Sensor on the stand</PanelTitle>
      <Text fontSize="22px" fontWeight="700" lineHeight="1.2" color={test.data.fails ? "late" : "ink"}>
        {test.data.words}
      </Text>
      <Text fontSize="13px" color="mute" mb="2">
        {test.data.limits}
      </Text>
      <Timelines test={test.data} />
    </Box>
  );
}

function Timelines({ test }: { test: Test }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const length = test.tested.spans.at(-1)?.to_s ?? 1;
  const x = (s: number) => LEFT + (s / length) * Math.max(10, width - LEFT - 8);
  const warm = test.temperature_c;
  const top = Math.max(100, ...warm);
  const rows: [string, Timeline][] = [["Tested", test.tested], ...(test.healthy ? [["Healthy one", test.healthy] as [string, Timeline]] : [])];
  const base = rows.length * ROW + 6;
  return (
    <Box ref={box}>
      <svg width={width} height={base + (warm.length ? 70 : 0) + 18} role="img" aria-label="Health over time">
        {rows.map(([name, row], i) => (
          <g key={name} transform={`translate(0 ${String(i * ROW)})`}>
            <text x={0} y={20} fontSize={13} fontWeight={650} fill="var(--chakra-colors-ink)">
              {name}
            </text>
            {row.spans.map((span) => (
              <g key={span.from_s}>
                <rect x={x(span.from_s)} y={4} width={Math.max(1, x(span.to_s) - x(span.from_s) - 1)} height={ROW - 10} fill={`var(--chakra-colors-${FILLS[span.health] ?? "mute"})`} opacity={span.health === "good" ? 0.35 : 0.85} />
                {x(span.to_s) - x(span.from_s) > 60 && (
                  <text x={x(span.from_s) + 6} y={20} fontSize={13} fill={span.health === "good" ? "var(--chakra-colors-ink)" : "var(--chakra-colors-panel)"}>
                    {span.health}
                  </text>
                )}
              </g>
            ))}
          </g>
        ))}
        {warm.length > 0 && (
          <g transform={`translate(0 ${String(base)})`}>
            <text x={0} y={36} fontSize={13} fontWeight={650} fill="var(--chakra-colors-ink)">
              Temperature
            </text>
            <path d={warm.map((c, i) => `${i ? "L" : "M"}${x(test.temperature_s[i] ?? 0).toFixed(1)},${(64 - (c / top) * 58).toFixed(1)}`).join("")} fill="none" stroke="var(--chakra-colors-exhaust)" strokeWidth={1.6} />
            <text x={width - 10} y={12} textAnchor="end" fontSize={12} fill="var(--chakra-colors-mute)">
              up to {Math.max(...warm).toFixed(0)} °C
            </text>
          </g>
        )}
      </svg>
    </Box>
  );
}
