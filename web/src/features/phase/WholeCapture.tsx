import { ink } from "../../ui/theme";
import { SvgText } from "../../ui";
import { LaneLabel } from "./LaneLabel";
import type { Scale, Strip } from "./strip-geometry";
import type { PhaseView } from "./view";

type Props = { strip: Strip; view: PhaseView; scale: Scale; top: number };

/** The capture over time with its numbered cycles; picking one picks it in the strip. What was left out says why. */
export function WholeCapture({ strip, view, scale, top }: Props) {
  const x = (s: number) => scale.left + ((s - strip.start_s) / strip.duration_s) * (scale.right - scale.left);
  const boxTop = top + 8;
  const boxH = 46;
  const cycles = strip.cycles;
  const settled = strip.speed_lane?.rpm.flat() ?? strip.speed.rpm;
  const peak = Math.max(1, ...settled);
  const low = 0.8 * Math.min(peak - 1, ...settled);
  const share = (rpm: number) => Math.min(1, Math.max(0, (rpm - low) / (peak - low)));
  const y = (rpm: number) => boxTop + boxH - 2 - share(rpm) * (boxH - 20);
  const line = strip.speed.times_s.map((t, i) => `${i ? "L" : "M"}${x(t).toFixed(1)} ${y(strip.speed.rpm[i] ?? 0).toFixed(1)}`);
  return (
    <g>
      <LaneLabel
        name="Whole capture"
        below={[`${strip.duration_s.toFixed(1)} s, ${cycles.length} ${cycles.length === 1 ? "cycle" : "cycles"}`]}
        color="ink"
        y={boxTop + 16}
      />
      <line x1={scale.left} x2={scale.right} y1={boxTop + boxH} y2={boxTop + boxH} stroke={ink("line")} />
      {cycles.map((cycle) => {
        const on = cycle.number === view.cycle;
        return (
          <g
            key={cycle.number}
            style={{ cursor: "pointer" }}
            onClick={() => view.setCycle(on ? null : cycle.number)}
            data-testid={`cycle-${cycle.number}`}
          >
            <rect
              x={x(cycle.from_s) + 0.5}
              y={boxTop}
              width={Math.max(1, x(cycle.to_s) - x(cycle.from_s) - 1)}
              height={boxH}
              fill={ink(on ? "petrolSoft" : "soft")}
              stroke={on ? ink("petrol") : "none"}
              strokeWidth="1.5"
            >
              <title>{`Cycle ${cycle.number}, ${cycle.mean_rpm.toFixed(0)} rpm`}</title>
            </rect>
            <SvgText
              x={x(cycle.from_s) + 5}
              y={boxTop + 13}
              size={11.5}
              weight={on ? 700 : 400}
              fill={ink(on ? "petrol" : "mute")}
            >
              {cycle.number}
            </SvgText>
          </g>
        );
      })}
      <path d={line.join("")} fill="none" stroke={ink("crank")} strokeWidth="1.3" pointerEvents="none" />
    </g>
  );
}

/** What was not measured, and why. */
export function leftOutWords(strip: Strip): string {
  if (!strip.left_out.length) return "nothing left out";
  return `left out: ${strip.left_out
    .map((part) => `${part.from_s.toFixed(2)} to ${part.to_s.toFixed(2)} s ${part.reason}`)
    .join("; ")}`;
}
