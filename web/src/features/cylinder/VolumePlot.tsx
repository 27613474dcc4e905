/** Pressure over volume: shut valves draw a straight line on logarithmic axes. */
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear, scaleLog } from "d3-scale";
import { line } from "d3-shape";

import type { Schemas } from "../../api/client";
import { inUnit, type PressureUnit, SvgText } from "../../ui";
import { ink } from "../../ui/theme";

const [WIDTH, HEIGHT, LEFT, BOTTOM] = [228, 150, 34, 20];

export function VolumePlot({ volume, log, unit }: { volume: Schemas["VolumeCurve"]; log: boolean; unit: PressureUnit }) {
  const make = log ? scaleLog : scaleLinear;
  const [small, large] = [Math.min(...volume.cm3), Math.max(...volume.cm3)];
  const [low, high] = [Math.min(...volume.bar), Math.max(...volume.bar)];
  const x = make([log ? small * 0.95 : 0, large * 1.03], [LEFT, WIDTH - 6]);
  const y = make([log ? low * 0.9 : 0, high * 1.06], [HEIGHT - BOTTOM, 6]);
  const drawn = line<number>()
    .digits(1)
    .x((_, i) => x(volume.cm3[i] ?? small))
    .y((v) => y(v));
  const levels = log ? [0.5, 1, 3, 10, 30].filter((v) => v > low * 0.9 && v < high * 1.06) : [0, Math.round(high / 2), Math.round(high)];
  const sizes = [small, (small + large) / 2, large];
  return (
    <Box data-testid="volume">
      <Text fontWeight="650" fontSize="13.5px">
        Pressure over volume
      </Text>
      <Text fontSize="13px" color="mute">
        {unit} absolute over cm³, {log ? "logarithmic" : "plain"}
      </Text>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label="Pressure over volume" style={{ display: "block" }}>
        {levels.map((level) => (
          <g key={level}>
            <line x1={LEFT} x2={WIDTH - 6} y1={y(level)} y2={y(level)} stroke={ink("line")} />
            <SvgText x={LEFT - 4} y={y(level) + 4} size={11} textAnchor="end" fill={ink("mute")}>
              {unit === "bar" ? level : inUnit(level, unit).toFixed(0)}
            </SvgText>
          </g>
        ))}
        {sizes.map((size, i) => (
          <SvgText key={size} x={x(size)} y={HEIGHT - 5} size={11} textAnchor={i === 2 ? "end" : i === 0 ? "start" : "middle"} fill={ink("mute")}>
            {size.toFixed(0)}
          </SvgText>
        ))}
        <path d={drawn(volume.bar) ?? ""} fill="none" stroke={ink("pressure")} strokeWidth="1.8" />
      </svg>
    </Box>
  );
}
