/** A phaser's sweep over time: the signal of each cam as a line, the valve corners of every cycle as dots on it. */
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";

import type { Schemas } from "../../api/client";
import { SvgText } from "../../ui";
import { ink } from "../../ui/theme";

const [WIDTH, HEIGHT, LEFT, BOTTOM] = [460, 190, 40, 20];

export function SweepPlot({ lines }: { lines: Schemas["SweepLine"][] }) {
  const times = lines.flatMap((one) => one.at_s);
  const offsets = lines.flatMap((one) => one.offset_deg);
  if (times.length < 2) return null;
  const x = scaleLinear([Math.min(...times), Math.max(...times)], [LEFT, WIDTH - 6]);
  const y = scaleLinear([Math.min(-5, ...offsets) - 3, Math.max(5, ...offsets) + 3], [HEIGHT - BOTTOM, 6]);
  return (
    <Box data-testid="sweep" maxW="100%">
      <Text fontWeight="650" fontSize="13.5px">
        Phaser sweep
      </Text>
      <Text fontSize="13px" color="mute">
        degrees late over seconds; line: cam signal, dots: valves of each cycle
      </Text>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label="Phaser sweep: cam signals and valve corners over time" style={{ display: "block", maxWidth: "100%" }}>
        {y.ticks(5).map((tick) => (
          <g key={tick}>
            <line x1={LEFT} x2={WIDTH - 6} y1={y(tick)} y2={y(tick)} stroke={ink(tick === 0 ? "mute" : "line")} strokeDasharray={tick === 0 ? "3 2.5" : undefined} />
            <SvgText x={LEFT - 4} y={y(tick) + 4} size={11} textAnchor="end" fill={ink("mute")}>
              {String(tick).replace("-", "−")}°
            </SvgText>
          </g>
        ))}
        {x.ticks(6).map((tick) => (
          <SvgText key={tick} x={x(tick)} y={HEIGHT - 5} size={11} textAnchor="middle" fill={ink("mute")}>
            {tick} s
          </SvgText>
        ))}
        {lines.map((one) => (
          <Drawn key={`${one.valve} ${one.measured}`} one={one} x={x} y={y} />
        ))}
      </svg>
    </Box>
  );
}

type DrawnProps = { one: Schemas["SweepLine"]; x: (s: number) => number; y: (deg: number) => number };

function Drawn({ one, x, y }: DrawnProps) {
  if (one.measured === "signal") {
    const path = line<number>()
      .digits(1)
      .x((_, i) => x(one.at_s[i] ?? 0))
      .y((v) => y(v));
    return <path d={path(one.offset_deg) ?? ""} fill="none" stroke={ink(one.valve)} strokeWidth="1.8" />;
  }
  return (
    <>
      {one.at_s.map((at, i) => (
        <circle key={at} cx={x(at)} cy={y(one.offset_deg[i] ?? 0)} r="3.2" fill={ink("panel")} stroke={ink(one.valve)} strokeWidth="1.6" />
      ))}
    </>
  );
}
