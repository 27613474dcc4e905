import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { SvgText } from "../../ui";
import { LaneLabel } from "./LaneLabel";
import type { Scale } from "./strip-geometry";

type Props = { ruler: Schemas["Ruler"]; scale: Scale; top: number };

/** The crank wheel: tick n is tooth n, the gap a window. */
export function CrankRuler({ ruler, scale, top }: Props) {
  const base = top + 34;
  const every = numbering(ruler, scale);
  return (
    <g>
      <LaneLabel name="Crank" below={[`${ruler.wheel}, ${sensorName(ruler.sensor)}`]} color="crank" y={top + 16} />
      <line x1={scale.left} x2={scale.right} y1={base} y2={base} stroke={ink("crank")} />
      {ruler.ticks.map((tick) => {
        const numbered = tick.tooth === 1 || tick.tooth % every === 0;
        const x = scale.x(tick.deg);
        return (
          <g key={`${tick.tooth} ${tick.deg}`}>
            <line x1={x} x2={x} y1={base} y2={base - (numbered ? 20 : 12)} stroke={ink("crank")} strokeWidth={numbered ? 2 : 1.6} />
            {numbered && (
              <SvgText x={x} y={base + 13} textAnchor="middle" size={11} fill={ink("mute")}>
                {tick.tooth}
              </SvgText>
            )}
          </g>
        );
      })}
      {ruler.gaps.map((gap) => (
        <rect
          key={gap.from_deg}
          x={scale.x(gap.from_deg)}
          y={base - 21}
          width={Math.max(2, scale.x(gap.to_deg) - scale.x(gap.from_deg))}
          height="21"
          rx="2"
          fill={ink("petrolSoft")}
          stroke={ink("petrol")}
        >
          <title>Gap of the wheel</title>
        </rect>
      ))}
    </g>
  );
}

/** Numbers every 10 teeth, or every 5 or 1 where there is room. */
function numbering(ruler: Schemas["Ruler"], scale: Scale): number {
  const pitch = ruler.pitch_deg ?? 720 / Math.max(1, ruler.ticks.length);
  return [1, 2, 5, 10, 20].find((n) => n * pitch * scale.perDeg > 30) ?? 50;
}

export function sensorName(sensor: string): string {
  return { hall: "Hall", vr: "inductive", optical: "optical" }[sensor] ?? sensor;
}
