import { Box } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { SvgText, useWidth } from "../../ui";

type Props = { view: Schemas["CompressionView"]; capture: Schemas["ImportedCapture"] };

/** The whole capture as a bar, with the cycles from which sealing was judged. */
export function CycleBar({ view, capture }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const right = Math.max(320, Math.min(width, 760)) - 4;
  const x = (s: number) => 2 + ((s - capture.start_s) / capture.duration_s) * (right - 4);
  return (
    <Box ref={ref} data-testid="cycle-bar">
      {width > 0 && (
        <svg width={right + 4} height="36" role="img" aria-label={`${String(view.cycles.length)} cycles judged`}>
          <rect x="2" y="4" width={right - 4} height="14" fill={ink("soft")} stroke={ink("line")} />
          {view.cycles.map((cycle, i) => (
            <g key={cycle.from_s}>
              <title>{`Cycle ${String(i + 1)}: ${cycle.from_s.toFixed(2)} to ${cycle.to_s.toFixed(2)} s, ${cycle.rpm.toFixed(0)} rpm`}</title>
              <rect x={x(cycle.from_s)} y="4" width={Math.max(1, x(cycle.to_s) - x(cycle.from_s) - 1)} height="14" fill={ink("current")} fillOpacity="0.7" />
            </g>
          ))}
          <SvgText x="2" y="31" size={11} fill={ink("mute")}>
            {`${capture.start_s.toFixed(1)} s`}
          </SvgText>
          <SvgText x={right - 2} y="31" textAnchor="end" size={11} fill={ink("mute")}>
            {`${(capture.start_s + capture.duration_s).toFixed(1)} s`}
          </SvgText>
        </svg>
      )}
    </Box>
  );
}
