import { ink } from "../../ui/theme";
import { SvgText } from "../../ui";
import { LEFT } from "./draw";
import { ticks, timeWords } from "./span";
import type { Cycle, Place, SignalView } from "./view";

type Props = {
  view: SignalView;
  x: (s: number) => number;
  right: number;
  bottom: number;
  cycles: Cycle[];
  cycle: number | null;
  places: Place[];
};

/** Over the signals: cycles shaded in turn, places dashed, and the time below. */
export function Marks({ view, x, right, bottom, cycles, cycle, places }: Props) {
  const { span } = view;
  return (
    <>
      {cycles.map((c) => (
        <rect
          key={c.number}
          x={Math.max(LEFT, x(c.from_s))}
          y="0"
          width={Math.max(0, Math.min(right, x(c.to_s)) - Math.max(LEFT, x(c.from_s)))}
          height={bottom}
          fill={ink(c.number === cycle ? "petrol" : "ink")}
          opacity={c.number === cycle ? 0.1 : c.number % 2 ? 0.045 : 0}
        />
      ))}
      {places
        .filter((p) => p.toS >= span.from && p.fromS <= span.to)
        .map((p, i) => (
          <g key={i}>
            <line x1={x(p.fromS)} x2={x(p.fromS)} y1="0" y2={bottom} stroke={ink("late")} strokeDasharray="3 3" />
            <title>{p.words}</title>
          </g>
        ))}
      {ticks(span, 8).map((t) => (
        <SvgText key={t} x={x(t)} y={bottom + 16} textAnchor="middle" size={11} fill={ink("mute")}>
          {timeWords(t, span)}
        </SvgText>
      ))}
    </>
  );
}
