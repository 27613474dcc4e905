import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";

import { ink } from "../../ui/theme";
import { SvgText } from "../../ui";
import { drawBand, LEFT } from "./draw";
import type { PictureLane } from "./picture";
import { panned, type Span, zoomed } from "./span";

type PlotProps = {
  height: number;
  width: number;
  span: Span;
  whole: Span;
  onZoom: (span: Span) => void;
  keys: Record<string, () => void>;
  label: string;
  lanes: PictureLane[];
  children: React.ReactNode;
};

/** Canvas below, marks and rulers above; wheel zooms about the pointer, drag pans, keys work while it has the focus. */
export function Plot({ height, width, span, whole, onZoom, keys, label, lanes, children }: PlotProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const region = useRef<HTMLDivElement>(null);
  const drag = useRef<{ px: number; span: Span } | null>(null);
  const latest = useRef({ span, whole, onZoom });
  useEffect(() => {
    latest.current = { span, whole, onZoom };
  });
  useEffect(() => {
    const surface = canvas.current;
    const context = surface?.getContext("2d");
    if (!surface || !context) return;
    const sharp = window.devicePixelRatio || 1;
    surface.width = Math.round(width * sharp);
    surface.height = Math.round(height * sharp);
    context.scale(sharp, sharp);
    for (const lane of lanes) drawBand(context, lane.channel, { fromS: span.from, toS: span.to }, lane.box, lane.color, lane.y);
  });
  useEffect(() => {
    const element = region.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const now = latest.current;
      const px = event.clientX - element.getBoundingClientRect().left;
      const plot = element.clientWidth - 12 - LEFT;
      const about = now.span.from + ((px - LEFT) / plot) * (now.span.to - now.span.from);
      now.onZoom(zoomed(now.span, Math.exp(event.deltaY * 0.0016), about, now.whole));
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, []);
  return (
    <Box
      ref={region}
      position="relative"
      height={`${String(height)}px`}
      tabIndex={0}
      role="application"
      aria-label={label}
      data-testid="signal-plot"
      style={{ touchAction: "none", cursor: "grab" }}
      onKeyDown={(event) => {
        if (event.ctrlKey || event.metaKey || event.altKey || event.target !== event.currentTarget) return;
        const run = keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
        if (!run) return;
        event.preventDefault();
        event.stopPropagation();
        event.nativeEvent.stopImmediatePropagation();
        run();
      }}
      onPointerDown={(event) => {
        if ((event.target as Element).closest("[role=slider]")) return;
        drag.current = { px: event.clientX, span };
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (!drag.current) return;
        const moved = (drag.current.px - event.clientX) / (width - 12 - LEFT);
        if (Math.abs(moved) > 0.003) onZoom(panned(drag.current.span, moved, whole));
      }}
      onPointerUp={() => (drag.current = null)}
      onPointerCancel={() => (drag.current = null)}
    >
      <canvas ref={canvas} style={{ position: "absolute", inset: 0, width, height }} />
      <svg width={width} height={height} style={{ position: "absolute", inset: 0, display: "block" }}>
        {lanes.map((lane, i) => (
          <g key={`${lane.channel.column} ${String(i)}`}>
            <SvgText x="0" y={lane.nameTop} size={13} weight={650} fill={lane.color}>
              {lane.name}
            </SvgText>
            {lane.below && (
              <SvgText x="0" y={lane.box.top + 33} size={11} fill={ink("mute")}>
                {lane.below}
              </SvgText>
            )}
          </g>
        ))}
        {children}
      </svg>
    </Box>
  );
}
