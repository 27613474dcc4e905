/** Where the pistons are by the crank's own speed: gas slows it before TDC and speeds it up behind. */
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";

import type { Schemas } from "../../api/client";
import { SvgText } from "../../ui";
import { ink } from "../../ui/theme";

const [WIDTH, HEIGHT, LEFT, BOTTOM] = [248, 150, 38, 20];

export function TorquePlot({ torque }: { torque: Schemas["TorqueView"] }) {
  const most = 1.12 * Math.max(1, ...torque.measured_nm.map(Math.abs), ...torque.model_nm.map(Math.abs));
  const x = scaleLinear([-90, 90], [LEFT, WIDTH - 6]);
  const y = scaleLinear([-most, most], [HEIGHT - BOTTOM, 6]);
  const step = niceStep(most);
  const drawn = line<number>()
    .digits(1)
    .x((_, i) => x(torque.about_deg[i] ?? 0))
    .y((v) => y(v));
  return (
    <Box data-testid="torque" maxW="260px">
      <Text fontWeight="650" fontSize="13.5px">
        TDC from the crank&rsquo;s own speed
      </Text>
      <Text fontSize="13px" color="mute">
        gas torque, N m; {torque.firings} firings folded
      </Text>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label={torque.words} style={{ display: "block" }}>
        <rect x={x(torque.found_deg - torque.u95_deg)} y="6" width={Math.max(1, x(torque.u95_deg) - x(-torque.u95_deg))} height={HEIGHT - BOTTOM - 6} fill={ink("crank")} opacity="0.14" />
        {[-step, 0, step].map((level) => (
          <g key={level}>
            <line x1={LEFT} x2={WIDTH - 6} y1={y(level)} y2={y(level)} stroke={ink("line")} />
            <SvgText x={LEFT - 4} y={y(level) + 4} size={11} textAnchor="end" fill={ink("mute")}>
              {String(level).replace("-", "−")}
            </SvgText>
          </g>
        ))}
        <line x1={x(0)} x2={x(0)} y1="6" y2={HEIGHT - BOTTOM} stroke={ink("mute")} strokeDasharray="3 2.5" strokeWidth="1.3" />
        <line x1={x(torque.found_deg)} x2={x(torque.found_deg)} y1="6" y2={HEIGHT - BOTTOM} stroke={ink("crank")} strokeWidth="1.8" />
        <path d={drawn(torque.model_nm) ?? ""} fill="none" stroke={ink("crank")} strokeWidth="1.8" />
        {torque.about_deg.map((deg, i) => (
          <circle key={deg} cx={x(deg)} cy={y(torque.measured_nm[i] ?? 0)} r="2" fill={ink("panel")} stroke={ink("ink")} strokeWidth="0.9" />
        ))}
        {[-90, 90].map((deg) => (
          <SvgText key={deg} x={x(deg)} y={HEIGHT - 5} size={11} textAnchor={deg < 0 ? "start" : "end"} fill={ink("mute")}>
            {String(deg).replace("-", "−")}°
          </SvgText>
        ))}
        <SvgText x={x(0)} y={HEIGHT - 5} size={11} textAnchor="middle" fill={ink("mute")}>
          wheel&rsquo;s TDC
        </SvgText>
      </svg>
      <Text fontSize="13px">{torque.words}.</Text>
    </Box>
  );
}

/** A round number at about two thirds of the scale. */
function niceStep(most: number): number {
  const size = 10 ** Math.floor(Math.log10(0.7 * most));
  const lead = (0.7 * most) / size;
  return size * (lead >= 5 ? 5 : lead >= 2 ? 2 : 1);
}
