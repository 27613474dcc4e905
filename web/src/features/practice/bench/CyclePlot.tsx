/** One cycle of all leads over the crank, with the sound engine faint behind it. */
import { Box } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { memo, useMemo } from "react";

import { curvePath, offsetWords, SvgText, useWidth } from "../../../ui";
import { ink } from "../../../ui/theme";
import type { Picture } from "./moving";

type Lane = Picture["lanes"][number];
type Props = { picture: Picture; behind: Picture | null; toothDeg: number | null };

const TOP = 26;
const RIGHT = 8;
const GAP = 8;
const COLOURS: Record<string, string> = { crank: "crank", cam: "intake", starter_current: "current", cylinder_pressure: "pressure", intake_pulse: "intake", exhaust_pulse: "exhaust", speed: "mute" };

/** Low lanes for what is either high or low, a high one for what has a shape. */
function heightOf(lane: Lane): number {
  return lane.role === "cam" || lane.role === "crank" || lane.role === "speed" ? 58 : 104;
}

/** Every lane under the one before it, with room for its name above it where there is none beside it. */
function placesOf(lanes: Lane[], head: number): { lane: Lane; top: number; height: number }[] {
  const ends = lanes.reduce<number[]>((found, lane) => [...found, (found.at(-1) ?? TOP) + head + heightOf(lane) + GAP], []);
  return lanes.map((lane, i) => ({ lane, top: (i ? (ends[i - 1] ?? TOP) : TOP) + head, height: heightOf(lane) }));
}

const same = (a: Lane, b: Lane) => a.role === b.role && a.cam === b.cam && a.cylinder === b.cylinder;

export function CyclePlot({ picture, behind, toothDeg }: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const narrow = width < 560;
  const left = narrow ? 8 : 150;
  const head = narrow ? 19 : 0;
  const x = useMemo(() => scaleLinear([0, 720], [left, Math.max(left + 1, width - RIGHT)]), [left, width]);
  const places = placesOf(picture.lanes, head);
  const height = TOP + picture.lanes.reduce((sum, lane) => sum + head + heightOf(lane) + GAP, 0) + 18;
  return (
    <Box ref={box} overflow="hidden">
      <svg width={width} height={height} role="img" aria-label="One cycle of every lead over the angle of the crank" data-testid="cycle">
        {[0, 90, 180, 270, 360, 450, 540, 630, 720].map((deg) => (
          <g key={deg}>
            <line x1={x(deg)} x2={x(deg)} y1={TOP - 4} y2={height - 18} stroke={ink("line")} />
            <SvgText size={11.5} fill={ink("mute")} x={x(deg)} y={height - 4} textAnchor={deg === 720 ? "end" : deg === 0 ? "start" : "middle"}>
              {`${String(deg)}°`}
            </SvgText>
          </g>
        ))}
        {picture.peaks.map((peak) => (
          <g key={peak.cylinder}>
            <line x1={x(peak.at_deg)} x2={x(peak.at_deg)} y1={TOP - 6} y2={height - 18} stroke={ink("edge")} strokeDasharray="2 4" />
            <SvgText size={11.5} weight={650} fill={ink("ink")} x={x(peak.at_deg)} y={TOP - 12} textAnchor={peak.at_deg < 12 ? "start" : "middle"}>
              {narrow ? String(peak.cylinder) : `TDC ${String(peak.cylinder)}`}
            </SvgText>
          </g>
        ))}
        {picture.sparks.map((spark, i) => (
          <path key={i} d={`M${String(x(spark.deg))} ${String(TOP - 1)}l-4 -7h8z`} fill={ink("coil")} />
        ))}
        {places.map(({ lane, top: y, height: tall }) => (
          <LanePlot
            key={`${lane.role}${lane.cam ?? ""}${String(lane.cylinder ?? "")}`}
            lane={lane}
            behind={behind?.lanes.find((one) => same(one, lane)) ?? null}
            top={y}
            height={tall}
            x={x}
            said={saidOf(picture, lane, toothDeg)}
            beside={!narrow}
          />
        ))}
      </svg>
    </Box>
  );
}

/** What a lane's number says: how late a cam's signal reads, in degrees and teeth; how fast it turns. */
function saidOf(picture: Picture, lane: Lane, toothDeg: number | null): string {
  if (lane.role === "speed") return `${String(Math.round(picture.rpm))} rpm`;
  if (lane.role !== "cam") return "";
  const reads = picture.cams.find((one) => one.cam === lane.cam);
  if (!reads) return "";
  const teeth = toothDeg ? `, ${(Math.abs(reads.signal_deg) / toothDeg).toFixed(1)} teeth` : "";
  return `${offsetWords(reads.signal_deg)}${teeth}`;
}

type LaneProps = { lane: Lane; behind: Lane | null; top: number; height: number; x: ReturnType<typeof scaleLinear<number, number>>; said: string; beside: boolean };

function LanePlot({ lane, behind, top, height, x, said, beside }: LaneProps) {
  const every = behind ? [...lane.values, ...behind.values] : lane.values;
  const [low, high] = [Math.min(...every), Math.max(...every)];
  const y = scaleLinear([low, Math.max(high, low + 1e-6)], [top + height - 3, top + 3]);
  const colour = lane.role === "cam" && /exhaust/i.test(lane.title) ? "exhaust" : (COLOURS[lane.role] ?? "ink");
  return (
    <g>
      {behind && <Behind lane={behind} x={x} top={top} height={height} low={low} high={high} />}
      <path d={path(lane, x, y)} fill="none" stroke={ink(colour)} strokeWidth="1.3" />
      <SvgText size={13} weight={600} fill={ink("ink")} x={beside ? 0 : x(0)} y={beside ? top + 14 : top - 5}>
        {lane.title}
      </SvgText>
      <SvgText size={beside && !said ? 11.5 : 13} fill={ink(said ? "ink" : "mute")} x={beside ? 0 : x(720)} y={beside ? top + 31 : top - 5} textAnchor={beside ? "start" : "end"}>
        {said || (height > 80 ? `${signed(low, lane.unit)} to ${signed(high, lane.unit)} ${lane.unit}` : "")}
      </SvgText>
    </g>
  );
}

/** With a true minus; of amperes nobody reads tenths. */
function signed(value: number, unit: string): string {
  const figure = Math.abs(value).toFixed(unit === "A" ? 0 : 1);
  return value < 0 && Number(figure) !== 0 ? `−${figure}` : figure;
}

function path(lane: Lane, x: (deg: number) => number, y: (value: number) => number): string {
  const step = 720 / (lane.values.length - 1);
  return curvePath(lane.values, (i) => x(i * step), y);
}

type BehindProps = { lane: Lane; x: (deg: number) => number; top: number; height: number; low: number; high: number };

/** The sound engine: it stands still while the other is dragged, so it is drawn once. */
const Behind = memo(function Behind({ lane, x, top, height, low, high }: BehindProps) {
  const y = scaleLinear([low, Math.max(high, low + 1e-6)], [top + height - 3, top + 3]);
  return <path d={path(lane, x, y)} fill="none" stroke={ink("edge")} strokeWidth="1" opacity="0.75" />;
});
