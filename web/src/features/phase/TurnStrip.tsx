/** The turn strip: one cycle unrolled, crank wheel as a ruler, cams against their reference, all cycles behind. */
import { Box, Text } from "@chakra-ui/react";

import { ink } from "../../ui/theme";
import { useWidth, SvgText } from "../../ui";
import { CamLaneView } from "./CamLaneView";
import { crankAngle } from "./crank-angle";
import { CrankRuler } from "./CrankRuler";
import { Loupe } from "./Loupe";
import { SpeedLaneView } from "./SpeedLaneView";
import { LABEL_PX, type Lane, scaleOf, type Strip, unrolled } from "./strip-geometry";
import type { PhaseView } from "./view";
import { leftOutWords, WholeCapture } from "./WholeCapture";

const TDC_H = 28;
const RULER_H = 56;
const SPEED_H = 66;
const WHOLE_H = 62;

export function TurnStrip({ strip, view }: { strip: Strip; view: PhaseView }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const laneH = strip.lanes.length > 2 ? 60 : 70;
  const scale = scaleOf(strip, Math.max(width, 340));
  const lanesTop = TDC_H + (strip.ruler ? RULER_H : 8);
  const speedTop = lanesTop + strip.lanes.length * laneH;
  const wholeTop = speedTop + (strip.speed_lane ? SPEED_H : 0);
  const height = wholeTop + WHOLE_H;
  const picked = strip.lanes.findIndex((l) => l.cam === view.loupe?.cam && l.segment === view.loupe.segment);
  const pickedLane = strip.lanes[picked];
  return (
    <Box ref={ref} position="relative" data-testid="turn-strip">
      {strip.lanes.length === 0 && <NoLanes />}
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label={described(strip)} style={{ display: "block" }}>
          <Patterns />
          <TdcLines strip={strip} scale={scale} to={wholeTop - 6} />
          {strip.ruler && <CrankRuler ruler={strip.ruler} scale={scale} top={TDC_H} />}
          {strip.lanes.map((lane, i) => (
            <CamLaneView
              key={`${lane.cam} ${lane.segment}`}
              lane={lane}
              scale={scale}
              view={view}
              top={lanesTop + i * laneH}
              height={laneH}
              pitchDeg={strip.ruler?.pitch_deg ?? null}
            />
          ))}
          {strip.speed_lane && (
            <SpeedLaneView lane={strip.speed_lane} cycle={view.cycle} scale={scale} top={speedTop} height={SPEED_H} />
          )}
          <RulerMarks strip={strip} view={view} scale={scale} to={wholeTop - 6} />
          <WholeCapture strip={strip} view={view} scale={scale} top={wholeTop} />
        </svg>
      )}
      <Text fontSize="13px" color="mute" pl={`${LABEL_PX}px`} data-testid="left-out">
        {leftOutWords(strip)}
      </Text>
      {pickedLane && view.loupe && (
        <Loupe
          lane={pickedLane}
          edge={view.loupe.edge}
          view={view}
          scale={scale}
          top={lanesTop + (picked + 1) * laneH - 6}
          pitchDeg={strip.ruler?.pitch_deg ?? null}
        />
      )}
    </Box>
  );
}

/** Where the rulers over the raw signals stand in the cycle. */
function RulerMarks({ strip, view, scale, to }: { strip: Strip; view: PhaseView; scale: ReturnType<typeof scaleOf>; to: number }) {
  if (!view.rulers) return null;
  return (
    <g data-testid="ruler-marks">
      {view.rulers.map((time, i) => {
        const angle = crankAngle(strip, time);
        if (angle === null) return null;
        const x = scale.x(unrolled(angle, scale.origin));
        return (
          <g key={i}>
            <line x1={x} x2={x} y1="22" y2={to} stroke={ink("petrol")} strokeWidth="1.4" strokeDasharray="6 3" />
            <rect x={x - 8} y="22" width="16" height="15" rx="2" fill={ink("petrol")} />
            <SvgText x={x} y="34" textAnchor="middle" size={11} weight={700} fill={ink("onPetrol")}>
              {i ? "B" : "A"}
            </SvgText>
          </g>
        );
      })}
    </g>
  );
}

function NoLanes() {
  return (
    <Text color="mute" mb="2">
      No cam could be placed in the turn, so there is nothing to compare; what was measured of the crank is below.
    </Text>
  );
}

function described(strip: Strip): string {
  const cams = strip.lanes.map((l: Lane) => `${l.name} ${l.offset_deg === null ? "not compared" : l.offset_deg.toFixed(1)}`).join(", ");
  return `One cycle unrolled over 720 degrees. Offsets in degrees, late positive: ${cams || "none"}`;
}

function Patterns() {
  return (
    <defs>
      <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="5" stroke={ink("mute")} strokeWidth="0.9" opacity="0.55" />
      </pattern>
    </defs>
  );
}

/** Dashed as long as TDC is assumed from the wheel, solid once pressure has confirmed it. */
function TdcLines({ strip, scale, to }: { strip: Strip; scale: ReturnType<typeof scaleOf>; to: number }) {
  return (
    <g>
      {strip.tdc.map((line) => (
        <g key={line.cylinder}>
          <rect x={scale.x(line.deg) - 25} y="1" width="50" height="19" rx="3" fill={ink("soft")} />
          <SvgText x={scale.x(line.deg)} y="15" textAnchor="middle" size={12} weight={600} fill={ink("ink")}>
            TDC {line.cylinder}
          </SvgText>
          <line
            x1={scale.x(line.deg)}
            x2={scale.x(line.deg)}
            y1="20"
            y2={to}
            stroke={ink("mute")}
            strokeDasharray={strip.tdc_confirmed ? undefined : "2 4"}
          />
        </g>
      ))}
    </g>
  );
}
