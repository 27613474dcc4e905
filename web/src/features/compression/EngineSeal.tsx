import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { isLow } from "./words";

/** The engine from above, bank by bank: filled compresses, dashed is weak, crossed does not compress. */
export function EngineSeal({ view }: { view: Schemas["CompressionView"] }) {
  if (!view.named) return null;
  const banks = [...new Set(view.tdcs.map((t) => t.bank))].sort((a, b) => a - b);
  const rows = banks.map((bank) => view.tdcs.filter((t) => t.bank === bank).map((t) => t.cylinder).sort((a, b) => a - b));
  const left = rows.length > 1 ? 70 : 24;
  const longest = Math.max(...rows.map((row) => row.length));
  return (
    <svg width={left + 42 * longest} height={46 * rows.length + 6} role="img" aria-label="The engine from above" fontSize="12" fill={ink("ink")}>
      {rows.map((row, r) => (
        <g key={banks[r]}>
          {rows.length > 1 && (
            <text x="0" y={26 + 46 * r} dominantBaseline="central" fill={ink("mute")}>
              Bank {banks[r]}
            </text>
          )}
          {row.map((cylinder, i) => (
            <Cylinder key={cylinder} view={view} cylinder={cylinder} x={left + 42 * i + (r === 1 ? 12 : 0)} y={26 + 46 * r} />
          ))}
        </g>
      ))}
    </svg>
  );
}

type Props = { view: Schemas["CompressionView"]; cylinder: number; x: number; y: number };

function Cylinder({ view, cylinder, x, y }: Props) {
  const state = view.bars.find((bar) => bar.cylinder === cylinder)?.state;
  const low = isLow(view, cylinder);
  return (
    <g>
      <circle
        cx={x}
        cy={y}
        r="17"
        fill={low ? ink("lateSoft") : state === "good" ? ink("soft") : "none"}
        stroke={ink(low ? "late" : "ink")}
        strokeWidth={low ? 2.5 : 1.5}
        strokeDasharray={state === "weak" ? "5 3" : undefined}
      />
      {state === "dead" && <line x1={x - 12} y1={y + 12} x2={x + 12} y2={y - 12} stroke={ink("late")} strokeWidth="2" />}
      <text x={x} y={y} textAnchor="middle" dominantBaseline="central" fontSize="15" fontWeight="700">
        {cylinder}
      </text>
    </g>
  );
}
