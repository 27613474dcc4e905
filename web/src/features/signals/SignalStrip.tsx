/** The signals as recorded: any zoom, every lane, two rulers that snap to edges, marks, and the picture as a file. */
import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { useEffect, useRef, useState } from "react";

import { edgesQuery } from "../../api/queries";
import { ErrorNote, useKeys, useSeen, useWidth, Waiting } from "../../ui";
import { LEFT } from "./draw";
import { pickedKeys, seenKeys } from "./keys";
import { LaneList } from "./LaneList";
import { type LaneSetting, rows, settingsFor } from "./lanes";
import { Marks } from "./Marks";
import { pictureLanes, ROW_H } from "./picture-lanes";
import { Plot } from "./Plot";
import { RulerLine } from "./RulerLine";
import { RulerReading, useBetween } from "./RulerReading";
import { savePicture } from "./save";
import { SignalTools } from "./SignalTools";
import { nextMark, snapped } from "./snap";
import { type Span, timeWords } from "./span";
import { traceQuery } from "./trace";
import { type Cycle, type Focus, type Place, useSignalView } from "./view";

const AXIS_H = 22;
const SNAP_PX = 6;

export type Rulers = [number, number];

type Props = {
  captureId: number;
  name: string;
  whole: Span;
  cycles?: Cycle[];
  cycle?: number | null;
  focus?: Focus | null;
  rulers: Rulers | null;
  onRulers: (rulers: Rulers) => void;
  places: Place[];
  onMark?: (timeS: number) => void;
  /** Opened by hand just now: comes into view and takes the keys. */
  opened?: boolean;
};

export function SignalStrip(props: Props) {
  const { captureId, name, whole, cycles = [], cycle = null, focus = null, rulers, onRulers, places, onMark } = props;
  const [ref, width] = useWidth<HTMLDivElement>();
  const view = useSignalView({ whole, cycles, cycle, focus, places });
  const { span } = view;
  const [lanes, setLanes] = useState<LaneSetting[]>([]);
  const [listed, setListed] = useState(false);
  const right = Math.max(width, 340) - 12;
  const plot = right - LEFT;
  const trace = useQuery({ ...traceQuery(captureId, span.from, span.to, Math.max(200, Math.round(plot))), enabled: width > 0 });
  const edges = useQuery(edgesQuery(captureId, span.from, span.to));
  const shown = settingsFor(trace.data?.channels.map((c) => c.column) ?? [], lanes);
  const stacked = rows(shown);
  const height = Math.max(1, stacked.length) * ROW_H + AXIS_H;
  const x = scaleLinear([span.from, span.to], [LEFT, right]);
  const [a, b] = rulers ?? [span.from + (span.to - span.from) / 3, span.from + (2 * (span.to - span.from)) / 3];
  const between = useBetween({ captureId, a, b });
  const apart = between?.crank_deg == null ? "" : `, ${between.crank_deg.toFixed(1)}° crank from A to B`;
  const borders = [...cycles.flatMap((c) => [c.from_s, c.to_s]), ...places.map((p) => p.fromS)];
  const snapTo = [...borders, ...(edges.data?.channels ?? []).flatMap((channel) => channel.times_s)];
  const setRuler = (i: number, at: number) => onRulers(i ? [a, at] : [at, b]);
  const mark = onMark && (() => onMark(a));
  const hands = { setRuler, mark: () => mark?.() };
  useKeys(seenKeys(view, hands), useSeen(ref));
  useOpened(ref, props.opened === true && trace.isSuccess);
  const drawn = trace.data ? pictureLanes(trace.data, stacked, plot) : [];
  const save = (kind: "svg" | "png") =>
    void savePicture(kind, { name, span, lanes: drawn, width: right + 12, height, rulers: rulers ? [x(a), x(b)] : [], x });
  return (
    <Box ref={ref} data-testid="signals">
      <SignalTools
        view={view}
        cycles={cycles.length > 0}
        places={places.length > 0}
        onMark={mark}
        lanesOpen={listed}
        onLanes={() => setListed((on) => !on)}
        onSave={save}
      />
      {listed && <LaneList lanes={shown} channels={trace.data?.channels ?? []} onChange={setLanes} />}
      {trace.isPending && <Waiting>Reading the samples</Waiting>}
      {trace.isError && <ErrorNote error={trace.error} onRetry={() => void trace.refetch()} />}
      {width > 0 && trace.data && (
        <Plot
          height={height}
          width={right + 12}
          span={span}
          whole={whole}
          onZoom={view.setZoom}
          keys={pickedKeys(view, hands)}
          label={`Signals from ${timeWords(span.from, span)} to ${timeWords(span.to, span)} seconds. Arrow keys pan and zoom, A and B place the rulers.`}
          lanes={drawn}
        >
          <Marks view={view} x={x} right={right} bottom={height - AXIS_H} cycles={cycles} cycle={cycle} places={places} />
          {[a, b].map((at, i) => (
            <RulerLine
              key={i}
              name={i ? "B" : "A"}
              timeMs={1000 * at}
              wholeMs={[1000 * whole.from, 1000 * whole.to]}
              words={`${(1000 * at).toFixed(2)} ms${apart}`}
              px={x(at)}
              height={height - AXIS_H}
              limits={[LEFT, right]}
              onMove={(px) => setRuler(i, snapped(snapTo, x.invert(px), SNAP_PX / (x(1) - x(0))))}
              onNudge={(by) => setRuler(i, x.invert(x(at) + by))}
              onStep={(by) => setRuler(i, nextMark(snapTo, at, by))}
            />
          ))}
        </Plot>
      )}
      {trace.data && <RulerReading captureId={captureId} a={a} b={b} />}
    </Box>
  );
}

/** Once the signals are drawn for the first time after they were opened, they come into view and take the focus. */
function useOpened(ref: React.RefObject<HTMLDivElement | null>, ready: boolean): void {
  const done = useRef(false);
  useEffect(() => {
    if (!ready || done.current) return;
    done.current = true;
    ref.current?.scrollIntoView({ block: "start" });
    ref.current?.querySelector<HTMLElement>("[data-testid=signal-plot]")?.focus({ preventScroll: true });
  }, [ref, ready]);
}
