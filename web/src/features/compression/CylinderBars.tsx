import type { Schemas } from "../../api/client";
import { scaleLinear } from "d3-scale";

import { ink } from "../../ui/theme";
import { useWidth } from "../../ui";
import { STATE_WORDS } from "./words";

const [HEIGHT, TOP, MOST] = [132, 20, 1.25];

/** A bar per cylinder in firing order, with its half width, against the healthy ones and the limit. */
export function CylinderBars({ view }: { view: Schemas["CompressionView"] }) {
  const [ref, room] = useWidth<HTMLDivElement>();
  const step = Math.min(64, Math.max(34, (room - 44) / view.bars.length));
  const width = 44 + step * view.bars.length;
  const y = scaleLinear([0, MOST], [TOP + HEIGHT, TOP]).clamp(true);
  return (
    <div ref={ref}>
    <svg width={width} height={TOP + HEIGHT + 44} role="img" aria-label={words(view)} data-testid="bars" fontSize="12.5" fill={ink("ink")}>
      <line x1="38" x2={width} y1={y(view.weak_below)} y2={y(view.weak_below)} stroke={ink("late")} strokeDasharray="4 3" />
      <text x="0" y={y(view.weak_below)} dominantBaseline="central" fill={ink("mute")} fontSize="11.5">
        {Math.round(100 * view.weak_below)} %
      </text>
      <line x1="38" x2={width} y1={y(0)} y2={y(0)} stroke={ink("line")} />
      {view.bars.map((bar, i) => (
        <Bar key={bar.cylinder} bar={bar} x={44 + step * i} y={y} named={view.named} />
      ))}
    </svg>
    </div>
  );
}

type BarProps = { bar: Schemas["CompressionBar"]; x: number; y: (v: number) => number; named: boolean };

function Bar({ bar, x, y, named }: BarProps) {
  const low = bar.state === "weak" || bar.state === "dead";
  const [value, half] = [bar.relative ?? 0, bar.u95 ?? 0];
  return (
    <g>
      {bar.relative === null ? (
        <text x={x + 15} y={y(0.5)} textAnchor="middle" fill={ink("mute")}>
          ?
        </text>
      ) : (
        <>
          <rect
            x={x}
            y={y(value)}
            width="30"
            height={Math.max(2, y(0) - y(value))}
            fill={ink(low ? "late" : "current")}
            fillOpacity={bar.state === "unknown" ? 0.35 : 0.85}
          />
          <line x1={x + 15} x2={x + 15} y1={y(value - half)} y2={y(value + half)} stroke={ink("ink")} strokeWidth="2" />
          <text x={x + 15} y={y(value + half) - 5} textAnchor="middle" fontWeight="650">
            {Math.round(100 * value)}
          </text>
        </>
      )}
      <text x={x + 15} y={TOP + HEIGHT + 18} textAnchor="middle" fontSize="16" fontWeight="700">
        {named ? bar.cylinder : "–"}
      </text>
      <text x={x + 15} y={TOP + HEIGHT + 36} textAnchor="middle" fill={ink(low ? "late" : "mute")} fontSize="11.5">
        {bar.state === "good" || !named ? "" : bar.state === "unknown" ? "unsure" : bar.state}
      </text>
    </g>
  );
}

function words(view: Schemas["CompressionView"]): string {
  if (!view.named) return "Cylinders are not named";
  const size = (bar: Schemas["CompressionBar"]) => (bar.relative === null ? "" : `${String(Math.round(100 * bar.relative))} percent, `);
  return view.bars.map((bar) => `Cylinder ${String(bar.cylinder)} ${size(bar)}${STATE_WORDS[bar.state]}`).join("; ");
}
