import { Box } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { curvePath, figure, SvgText, useWidth } from "../../ui";
import { isLow, SOURCE_COLORS, SOURCE_WORDS } from "./words";

const [LEFT, LANE, HEAD] = [124, 86, 26];

type View = Schemas["CompressionView"];

/** Every source's mean settled cycle over 720 degrees; a line where each cylinder stands on its compression TDC. */
export function Unrolled({ view }: { view: View }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const right = Math.max(width, 340) - 8;
  const x = scaleLinear([view.from_deg, view.from_deg + 720], [LEFT, right]);
  const height = HEAD + LANE * view.curves.length + 24;
  return (
    <Box ref={ref} mt="4" data-testid="unrolled">
      {width > 0 && (
        <svg width={right + 8} height={height} role="img" aria-label="Sources over one cycle of 720 degrees">
          {view.tdcs.map((tdc) => (
            <g key={tdc.cylinder}>
              <line x1={x(tdc.deg)} x2={x(tdc.deg)} y1={HEAD - 4} y2={height - 22} stroke={ink("mute")} strokeDasharray="4 3" opacity="0.6" />
              <SvgText x={x(tdc.deg)} y="16" textAnchor="middle" size={15} weight={700} fill={ink(isLow(view, tdc.cylinder) ? "late" : "ink")}>
                {view.named ? String(tdc.cylinder) : "TDC"}
              </SvgText>
            </g>
          ))}
          {view.curves.map((curve, i) => (
            <Lane key={`${curve.source} ${curve.channel}`} curve={curve} view={view} top={HEAD + LANE * i} x={x} />
          ))}
          {view.sparks.map((spark) => (
            <g key={spark.cylinder} data-testid="spark">
              <title>{spark.words}</title>
              <path d={`M${String(x(spark.deg))} ${String(height - 34)}l-6 12h12z`} fill={ink("coil")} />
              <line x1={x(spark.deg)} x2={x(spark.deg)} y1={HEAD - 3} y2={height - 22} stroke={ink("coil")} strokeWidth="1.5" />
            </g>
          ))}
          {[0, 180, 360, 540].map((deg) => (
            <SvgText key={deg} x={x(deg)} y={height - 6} textAnchor="middle" size={11} fill={ink("mute")}>
              {`${String(deg)}°`}
            </SvgText>
          ))}
        </svg>
      )}
    </Box>
  );
}

type LaneProps = { curve: Schemas["CompressionCurve"]; view: View; top: number; x: (deg: number) => number };

function Lane({ curve, view, top, x }: LaneProps) {
  const [least, most] = [Math.min(...curve.values), Math.max(...curve.values)];
  const y = scaleLinear([least, Math.max(most, least + 1e-9)], [top + LANE - 8, top + 8]);
  const path = curvePath(curve.values, (k) => x(view.from_deg + view.step_deg * (k + 0.5)), y);
  const color = ink(SOURCE_COLORS[curve.source]);
  return (
    <g>
      <SvgText x="0" y={top + 24} size={13} weight={650} fill={color}>
        {SOURCE_WORDS[curve.source]}
      </SvgText>
      <SvgText x="0" y={top + 41} size={11} fill={ink("mute")}>
        {`${figure(least)} to ${figure(most)} ${curve.unit}`}
      </SvgText>
      {curve.turned && curve.source === "starter_current" && (
        <SvgText x="0" y={top + 56} size={11} fill={ink("mute")}>
          clamp turned round
        </SvgText>
      )}
      <path d={path} fill="none" stroke={color} strokeWidth="2" />
    </g>
  );
}
