/** The signals as recorded: any zoom, every lane, two rulers that snap to edges, marks, and the picture as a file. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { edgesQuery } from "../../api/queries";
import { ink } from "../../app/theme";
import { ErrorNote, QuietButton, SvgText, useWidth, Waiting } from "../../ui";
import { reach } from "./band";
import { type Box as LaneBox, LEFT, valueScale } from "./draw";
import { LaneList } from "./LaneList";
import { type LaneSetting, rows, settingsFor } from "./lanes";
import { laneColor, laneName } from "./names";
import { download, type PictureLane, pngOf, svgOf } from "./picture";
import { Plot } from "./Plot";
import { RulerLine } from "./RulerLine";
import { RulerReading } from "./RulerReading";
import { around, clamped, panned, type Span, ticks, timeWords, zoomed } from "./span";
import { type Trace, traceQuery } from "./trace";

const ROW_H = 62;
const AXIS_H = 22;
const SNAP_PX = 6;

export type Place = { fromS: number; toS: number; words: string };
export type Rulers = [number, number];
type Cycle = { number: number; from_s: number; to_s: number };

type Props = {
  captureId: number;
  name: string;
  whole: Span;
  cycles?: Cycle[];
  cycle?: number | null;
  focus?: { timeS: number; toS: number; spanS: number } | null;
  rulers: Rulers | null;
  onRulers: (rulers: Rulers) => void;
  places: Place[];
  onMark?: (timeS: number) => void;
};

export function SignalStrip(props: Props) {
  const { captureId, whole, cycles = [], cycle = null, focus = null, rulers, onRulers, places } = props;
  const [ref, width] = useWidth<HTMLDivElement>();
  const picked = cycles.find((c) => c.number === cycle);
  const [zoom, setZoom] = useState<Span | null>(focus && around(focus.timeS, focus.toS, focus.spanS, whole));
  const span = zoom ?? (picked ? { from: picked.from_s, to: picked.to_s } : whole);
  const [lanes, setLanes] = useState<LaneSetting[]>([]);
  const [listed, setListed] = useState(false);
  const right = Math.max(width, 360) - 12;
  const plot = right - LEFT;
  const trace = useQuery({ ...traceQuery(captureId, span.from, span.to, Math.max(200, Math.round(plot))), enabled: width > 0 });
  const edges = useQuery(edgesQuery(captureId, span.from, span.to));
  const shown = settingsFor(trace.data?.channels.map((c) => c.column) ?? [], lanes);
  const stacked = rows(shown);
  const height = Math.max(1, stacked.length) * ROW_H + AXIS_H;
  const x = (s: number) => LEFT + ((s - span.from) / (span.to - span.from)) * plot;
  const time = (px: number) => span.from + ((px - LEFT) / plot) * (span.to - span.from);
  const [a, b] = rulers ?? [span.from + (span.to - span.from) / 3, span.from + (2 * (span.to - span.from)) / 3];
  const borders = [...cycles.flatMap((c) => [c.from_s, c.to_s]), ...places.map((p) => p.fromS)];
  const snapTo = [...borders, ...(edges.data?.channels ?? []).flatMap((channel) => channel.times_s)];
  const setRuler = (i: number, at: number) => onRulers(i ? [a, at] : [at, b]);
  const jump = (by: 1 | -1) => {
    const centre = (span.from + span.to) / 2;
    const beyond = places.filter((p) => (by > 0 ? p.fromS > centre + 1e-6 : p.fromS < centre - 1e-6));
    const next = by > 0 ? beyond[0] : beyond.at(-1);
    if (next) setZoom(around(next.fromS, next.toS, Math.min(span.to - span.from, Math.max(0.1, 3 * (next.toS - next.fromS))), whole));
  };
  const fitCycle = () => {
    const centre = (span.from + span.to) / 2;
    const own = cycles.find((c) => centre >= c.from_s && centre <= c.to_s) ?? cycles[0];
    if (own) setZoom({ from: own.from_s, to: own.to_s });
  };
  const fit720 = () => {
    const own = cycles.find((c) => span.from >= c.from_s - 1e-9 && span.from < c.to_s) ?? cycles[0];
    const next = own && cycles.find((c) => c.number === own.number + 1);
    if (!own) return;
    const share = Math.max(0, (span.from - own.from_s) / (own.to_s - own.from_s));
    const end = next ? next.from_s + share * (next.to_s - next.from_s) : own.to_s + share * (own.to_s - own.from_s);
    setZoom(clamped({ from: own.from_s + share * (own.to_s - own.from_s), to: end }, whole));
  };
  const keys: Record<string, () => void> = {
    ArrowLeft: () => setZoom(panned(span, -0.2, whole)),
    ArrowRight: () => setZoom(panned(span, 0.2, whole)),
    ArrowUp: () => setZoom(zoomed(span, 0.5, (span.from + span.to) / 2, whole)),
    ArrowDown: () => setZoom(zoomed(span, 2, (span.from + span.to) / 2, whole)),
    "+": () => setZoom(zoomed(span, 0.5, (span.from + span.to) / 2, whole)),
    "-": () => setZoom(zoomed(span, 2, (span.from + span.to) / 2, whole)),
    Home: () => setZoom(whole),
    f: () => setZoom(whole),
    c: fitCycle,
    "7": fit720,
    n: () => jump(1),
    p: () => jump(-1),
    a: () => setRuler(0, (span.from + span.to) / 2),
    b: () => setRuler(1, (span.from + span.to) / 2),
    m: () => props.onMark?.(a),
  };
  const lanesOf = (data: Trace) => pictureLanes(data, stacked, plot);
  const save = async (kind: "svg" | "png") => {
    if (!trace.data) return;
    const svg = svgOf({
      width: right + 12,
      height,
      paper: computed("paper"),
      text: computed("ink"),
      view: { fromS: span.from, toS: span.to },
      title: `${props.name}, ${timeWords(span.from, span)} to ${timeWords(span.to, span)} s`,
      lanes: lanesOf(trace.data),
      rulers: rulers ? [a, b].map((at, i) => ({ name: i ? "B" : "A", x: x(at) })) : [],
      ticks: ticks(span, 8).map((t) => ({ x: x(t), text: timeWords(t, span) })),
    });
    const blob = kind === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await pngOf(svg, right + 12, height);
    download(blob, `${props.name}.${kind}`);
  };
  return (
    <Box ref={ref} data-testid="signals">
      <Flex gap="2" mb="2" align="center" wrap="wrap">
        <QuietButton onClick={() => setZoom(zoomed(span, 0.5, (span.from + span.to) / 2, whole))}>Closer</QuietButton>
        <QuietButton onClick={() => setZoom(zoomed(span, 2, (span.from + span.to) / 2, whole))}>Wider</QuietButton>
        <QuietButton onClick={() => setZoom(panned(span, -0.5, whole))} aria-label="Earlier in time">
          ◂
        </QuietButton>
        <QuietButton onClick={() => setZoom(panned(span, 0.5, whole))} aria-label="Later in time">
          ▸
        </QuietButton>
        <QuietButton onClick={() => setZoom(whole)}>Whole capture</QuietButton>
        {cycles.length > 0 && <QuietButton onClick={fitCycle}>One cycle</QuietButton>}
        {cycles.length > 0 && (
          <QuietButton onClick={fit720} title="720 degrees from the left edge on; key 7">
            720°
          </QuietButton>
        )}
        {places.length > 0 && <QuietButton onClick={() => jump(1)}>Next place</QuietButton>}
        {props.onMark && <QuietButton onClick={() => props.onMark?.(a)}>Mark at A</QuietButton>}
        <QuietButton onClick={() => setListed((on) => !on)} aria-expanded={listed}>
          Lanes
        </QuietButton>
        <QuietButton onClick={() => void save("png")}>PNG</QuietButton>
        <QuietButton onClick={() => void save("svg")}>SVG</QuietButton>
        <Text color="mute" fontSize="12.5px" data-testid="span">
          {timeWords(span.from, span)} to {timeWords(span.to, span)} s
        </Text>
      </Flex>
      {listed && <LaneList lanes={shown} channels={trace.data?.channels ?? []} onChange={setLanes} />}
      {trace.isPending && <Waiting>Reading the samples</Waiting>}
      {trace.isError && <ErrorNote error={trace.error} onRetry={() => void trace.refetch()} />}
      {width > 0 && trace.data && (
        <Plot
          height={height}
          width={right + 12}
          span={span}
          whole={whole}
          onZoom={setZoom}
          keys={keys}
          label={`Signals from ${timeWords(span.from, span)} to ${timeWords(span.to, span)} seconds. Arrow keys pan and zoom, A and B place the rulers.`}
          lanes={lanesOf(trace.data)}
        >
          {cycles.map((c) => (
            <rect
              key={c.number}
              x={Math.max(LEFT, x(c.from_s))}
              y="0"
              width={Math.max(0, Math.min(right, x(c.to_s)) - Math.max(LEFT, x(c.from_s)))}
              height={height - AXIS_H}
              fill={ink(c.number === cycle ? "petrol" : "ink")}
              opacity={c.number === cycle ? 0.1 : c.number % 2 ? 0.045 : 0}
            />
          ))}
          {places
            .filter((p) => p.toS >= span.from && p.fromS <= span.to)
            .map((p, i) => (
              <g key={i}>
                <line x1={x(p.fromS)} x2={x(p.fromS)} y1="0" y2={height - AXIS_H} stroke={ink("late")} strokeDasharray="3 3" />
                <title>{p.words}</title>
              </g>
            ))}
          {ticks(span, 8).map((t) => (
            <SvgText key={t} x={x(t)} y={height - 6} textAnchor="middle" size={11} fill={ink("mute")}>
              {timeWords(t, span)}
            </SvgText>
          ))}
          {[a, b].map((at, i) => (
            <RulerLine
              key={i}
              name={i ? "B" : "A"}
              px={x(at)}
              height={height - AXIS_H}
              limits={[LEFT, right]}
              onMove={(px) => setRuler(i, snapped(snapTo, time(px), SNAP_PX / (x(1) - x(0))))}
              onNudge={(by) => setRuler(i, time(x(at) + by))}
              onStep={(by) => setRuler(i, nextMark(snapTo, at, by))}
            />
          ))}
        </Plot>
      )}
      {trace.data && <RulerReading captureId={captureId} a={a} b={b} />}
    </Box>
  );
}

function pictureLanes(trace: Trace, stacked: LaneSetting[][], plot: number): PictureLane[] {
  return stacked.flatMap((row, i) => {
    const box: LaneBox = { left: LEFT, top: i * ROW_H, width: plot, height: ROW_H };
    return row.flatMap((lane, k) => {
      const channel = trace.channels.find((c) => c.column === lane.column);
      if (!channel) return [];
      const [low, high] = reach(channel);
      return [
        {
          name: laneName(channel),
          nameTop: box.top + 18 + (k ? 20 + 13 * k : 0),
          below: k ? "" : `${low.toPrecision(3)} to ${high.toPrecision(3)} ${channel.unit}`,
          color: computed(laneColor(channel)),
          channel,
          box,
          y: valueScale(channel, box, lane.gain),
        },
      ];
    });
  });
}

/** A colour as the page shows it now, for canvas and files. */
function computed(token: string): string {
  const name = ink(token).slice(4, -1);
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim() || "#444";
}

/** To the nearest edge or border within a few pixels. */
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
