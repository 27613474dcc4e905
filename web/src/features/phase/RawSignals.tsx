/** The signals as recorded, with two rulers that a person can move to check the machine. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { edgesQuery, rawQuery } from "../../api/queries";
import { ink } from "../../app/theme";
import { ErrorNote, QuietButton, useWidth, Waiting, SvgText } from "../../ui";
import { RawLane } from "./RawLane";
import { RulerReading } from "./RulerReading";
import { LABEL_PX, type Strip } from "./strip-geometry";
import type { Focus, PhaseView } from "./view";

const LANE_H = 58;
const SNAP_PX = 6;

type Props = { captureId: number; strip: Strip; view: PhaseView };
type Span = { from: number; to: number };

export function RawSignals({ captureId, strip, view }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const whole: Span = { from: strip.start_s, to: strip.start_s + strip.duration_s };
  const picked = strip.cycles.find((c) => c.number === view.cycle);
  const [zoom, setZoom] = useState<Span | null>(view.focus && around(view.focus, whole));
  const span = zoom ?? (picked ? { from: picked.from_s, to: picked.to_s } : whole);
  const [rulers, setRulers] = useState<[number, number] | null>(
    view.focus && [view.focus.timeS, view.focus.toS > view.focus.timeS ? view.focus.toS : view.focus.timeS + view.focus.spanS / 4],
  );
  const right = Math.max(width, 360) - 14;
  const raw = useQuery(rawQuery(captureId, span.from, span.to, Math.max(200, Math.round(right - LABEL_PX))));
  const x = (s: number) => LABEL_PX + ((s - span.from) / (span.to - span.from)) * (right - LABEL_PX);
  const time = (px: number) => span.from + ((px - LABEL_PX) / (right - LABEL_PX)) * (span.to - span.from);
  const [a, b] = rulers ?? [span.from + (span.to - span.from) / 3, span.from + (2 * (span.to - span.from)) / 3];
  const zoomBy = (factor: number) => {
    const centre = rulers && a >= span.from && b <= span.to ? (a + b) / 2 : (span.from + span.to) / 2;
    const half = ((span.to - span.from) / 2) * factor;
    setZoom(half * 2 >= strip.duration_s ? whole : { from: centre - half, to: centre + half });
  };
  const pan = (share: number) => {
    const by = (span.to - span.from) * share;
    setZoom({ from: span.from + by, to: span.to + by });
  };
  const edges = useQuery(edgesQuery(captureId, span.from, span.to));
  const marks = [
    ...strip.cycles.flatMap((c) => [c.from_s, c.to_s]),
    ...(edges.data?.channels ?? []).flatMap((channel) => channel.times_s),
  ];
  const snap = (px: number) => snapped(marks, time(px), SNAP_PX / (x(1) - x(0)));
  const channels = raw.data?.channels ?? [];
  const height = channels.length * LANE_H;
  return (
    <Box ref={ref} data-testid="raw-signals">
      <Flex gap="2" mb="2" align="center" wrap="wrap">
        <QuietButton onClick={() => zoomBy(0.5)}>Closer</QuietButton>
        <QuietButton onClick={() => zoomBy(2)}>Wider</QuietButton>
        <QuietButton onClick={() => pan(-0.5)} aria-label="Earlier in time">
          ◂
        </QuietButton>
        <QuietButton onClick={() => pan(0.5)} aria-label="Later in time">
          ▸
        </QuietButton>
        <QuietButton onClick={() => setZoom(whole)}>Whole capture</QuietButton>
        <Text color="mute" fontSize="12.5px">
          {span.from.toFixed(3)} to {span.to.toFixed(3)} s
        </Text>
      </Flex>
      {raw.isPending && <Waiting>Reading the samples</Waiting>}
      {raw.isError && <ErrorNote error={raw.error} onRetry={() => void raw.refetch()} />}
      {width > 0 && raw.data && (
        <svg width={width} height={height} style={{ display: "block", touchAction: "none" }}>
          <clipPath id="raw-plot">
            <rect x={LABEL_PX} y="0" width={right - LABEL_PX} height={height} />
          </clipPath>
          <g clipPath="url(#raw-plot)">
            {strip.cycles.map((c) => (
              <rect
                key={c.number}
                x={x(c.from_s)}
                y="0"
                width={x(c.to_s) - x(c.from_s)}
                height={height}
                fill={ink(c.number === view.cycle ? "petrolSoft" : c.number % 2 ? "soft" : "paper")}
                opacity="0.7"
              />
            ))}
          </g>
          {channels.map((channel, i) => (
            <RawLane key={channel.column} channel={channel} strip={strip} x={x} top={i * LANE_H} height={LANE_H} />
          ))}
          {[a, b].map((at, i) => (
            <RulerLine
              key={i}
              name={i ? "B" : "A"}
              px={x(at)}
              height={height}
              limits={[LABEL_PX, right]}
              onMove={(px) => setRulers(i ? [a, snap(px)] : [snap(px), b])}
              onNudge={(by) => setRulers(i ? [a, time(x(b) + by)] : [time(x(a) + by), b])}
              onStep={(by) => setRulers(i ? [a, nextMark(marks, b, by)] : [nextMark(marks, a, by), b])}
            />
          ))}
        </svg>
      )}
      {raw.data && <RulerReading strip={strip} channels={channels} a={a} b={b} />}
    </Box>
  );
}

/** The stretch around a moment, within the capture. */
function around(focus: Focus, whole: Span): Span {
  const centre = (focus.timeS + focus.toS) / 2;
  return { from: Math.max(whole.from, centre - focus.spanS / 2), to: Math.min(whole.to, centre + focus.spanS / 2) };
}

/** To the nearest edge or cycle border within a few pixels. */
function snapped(marks: number[], time: number, within: number): number {
  const nearest = marks.reduce((best, mark) => (Math.abs(mark - time) < Math.abs(best - time) ? mark : best), Infinity);
  return Math.abs(nearest - time) < within ? nearest : time;
}

/** The next edge or border before or after; where there is none the ruler stays. */
function nextMark(marks: number[], time: number, by: number): number {
  const beyond = marks.filter((mark) => (by > 0 ? mark > time + 1e-7 : mark < time - 1e-7));
  if (!beyond.length) return time;
  return by > 0 ? Math.min(...beyond) : Math.max(...beyond);
}

type LineProps = {
  name: string;
  px: number;
  height: number;
  limits: [number, number];
  onMove: (px: number) => void;
  onNudge: (by: number) => void;
  onStep: (by: number) => void;
};

/** A ruler: drag it, or focus it and use the arrow keys (with Shift ten pixels, with Alt or up and down edge by edge). */
function RulerLine({ name, px, height, limits, onMove, onNudge, onStep }: LineProps) {
  const at = Math.min(Math.max(px, limits[0]), limits[1]);
  return (
    <g
      tabIndex={0}
      role="slider"
      aria-label={`Ruler ${name}`}
      aria-valuenow={Math.round(at)}
      style={{ cursor: "ew-resize" }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const left = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
        onMove(Math.min(Math.max(event.clientX - left, limits[0]), limits[1]));
      }}
      onKeyDown={(event) => {
        const sideways = event.key === "ArrowLeft" || event.key === "ArrowRight";
        if (!sideways && event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        event.stopPropagation();
        const back = event.key === "ArrowLeft" || event.key === "ArrowDown";
        if (!sideways || event.altKey) onStep(back ? -1 : 1);
        else onNudge((back ? -1 : 1) * (event.shiftKey ? 10 : 1));
      }}
    >
      <line x1={at} x2={at} y1="0" y2={height} stroke={ink("petrol")} strokeWidth="1.6" />
      <rect x={at - 9} y="0" width="18" height={height} fill="transparent" />
      <rect x={at - 8} y="0" width="16" height="16" rx="2" fill={ink("petrol")} />
      <SvgText x={at} y="12" textAnchor="middle" size={11} weight={700} fill={ink("onPetrol")}>
        {name}
      </SvgText>
    </g>
  );
}
