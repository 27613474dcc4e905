/** Points over time: each car a dot, the mean of the last ten a line. */
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { SvgText, useWidth } from "../../ui";
import { pointsWords } from "./words";

const HEIGHT = 170;
const LEFT = 44;
const LEAST = -120;

export function CurvePlot({ curve }: { curve: Schemas["CurvePointOut"][] }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const x = scaleLinear([1, Math.max(2, curve.length)], [LEFT, width - 12]);
  const y = scaleLinear([LEAST, 100], [HEIGHT - 20, 8]);
  const line = curve.map((one, i) => `${i ? "L" : "M"}${x(one.number).toFixed(1)} ${y(one.mean).toFixed(1)}`).join("");
  const last = curve.at(-1);
  return (
    <Box ref={box} mb="2" data-testid="curve">
      <Text fontSize="30px" fontWeight="720" lineHeight="1.15">
        {last ? `${pointsWords(last.mean)} points on the average of your last ${String(Math.min(10, curve.length))} cars` : ""}
      </Text>
      <svg width={width} height={HEIGHT} role="img" aria-label="Points of every car, and their mean over the last ten">
        {[-100, -50, 0, 50, 100].map((tick) => (
          <g key={tick}>
            <line x1={LEFT} x2={width - 12} y1={y(tick)} y2={y(tick)} stroke="var(--chakra-colors-line)" strokeWidth={tick === 0 ? 1.6 : 1} />
            <SvgText size={11.5} fill="var(--chakra-colors-mute)" x={LEFT - 6} y={y(tick)} textAnchor="end" dominantBaseline="central">
              {pointsWords(tick)}
            </SvgText>
          </g>
        ))}
        <path d={line} fill="none" stroke="var(--chakra-colors-petrol)" strokeWidth="2.4" />
        {curve.map((one) => (
          <circle key={one.number} cx={x(one.number)} cy={y(Math.max(LEAST, one.points))} r="3.4" fill="var(--chakra-colors-ink)" />
        ))}
        <SvgText size={11.5} fill="var(--chakra-colors-mute)" x={width - 12} y={HEIGHT - 5} textAnchor="end">
          {`car ${String(curve.length)}`}
        </SvgText>
      </svg>
    </Box>
  );
}
