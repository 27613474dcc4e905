import type { Schemas } from "../../../api/client";
import { ink } from "../../../ui/theme";

const WIDTH = 500;
const AXIS = WIDTH - 60;

/** The block from above with its cylinders, and when each fires over one cycle. */
export function FiringDrawing({ drawing }: { drawing: Schemas["EngineDrawing"] }) {
  const banks = [...new Set(drawing.firing.map((place) => place.bank))].sort((a, b) => a - b);
  const rowY = (bank: number) => 24 + 46 * banks.indexOf(bank);
  const axisY = 24 + 46 * banks.length + 26;
  const order = drawing.firing.map((place) => place.cylinder).join(" ");
  const longest = Math.max(...drawing.firing.map((place) => place.place_in_bank)) + 1;
  const step = Math.min(64, (WIDTH - 150) / longest);
  return (
    <svg viewBox={`0 0 ${String(WIDTH)} ${String(axisY + 46)}`} width="100%" style={{ maxWidth: WIDTH }} role="img" aria-label={`Firing order ${order}`} data-testid="firing" fontSize="13" fill={ink("ink")}>
      {banks.map((bank) => (
        <text key={bank} x="6" y={rowY(bank)} dominantBaseline="central" fill={ink("mute")}>
          {banks.length > 1 ? `Bank ${String(bank)}` : "Cylinders"}
        </text>
      ))}
      {drawing.firing.map((place, i) => {
        const x = 104 + step * (place.place_in_bank + (drawing.layout !== "inline" && banks.indexOf(place.bank) === 1 ? 0.4 : 0));
        return (
          <g key={place.cylinder}>
            <circle cx={x} cy={rowY(place.bank)} r="17" fill={ink("panel")} stroke={ink("ink")} strokeWidth="1.5" />
            <text x={x} y={rowY(place.bank)} textAnchor="middle" dominantBaseline="central" fontWeight="700" fontSize="16">
              {place.cylinder}
            </text>
            <text x={x + 19} y={rowY(place.bank) - 12} fontSize="11.5" fill={ink("mute")}>
              {ordinal(i + 1)}
            </text>
          </g>
        );
      })}
      <line x1="30" x2={30 + AXIS} y1={axisY} y2={axisY} stroke={ink("line")} strokeWidth="2" />
      {[...drawing.firing, { cylinder: drawing.firing[0]?.cylinder ?? 1, tdc_deg: 720, bank: 0 }].map((place, i) => {
        const x = 30 + (AXIS * place.tdc_deg) / 720;
        return (
          <g key={i} opacity={place.tdc_deg === 720 ? 0.5 : 1}>
            <line x1={x} x2={x} y1={axisY - 8} y2={axisY + 4} stroke={ink("ink")} strokeWidth="2" />
            <text x={x} y={axisY - 14} textAnchor="middle" fontWeight="700">
              {place.cylinder}
            </text>
            <text x={x} y={axisY + 20} textAnchor="middle" fill={ink("mute")} fontSize="12">
              {Number(place.tdc_deg.toFixed(1))}°
            </text>
          </g>
        );
      })}
    </svg>
  );
}

function ordinal(n: number): string {
  const tail = n % 10 === 1 && n !== 11 ? "st" : n % 10 === 2 && n !== 12 ? "nd" : n % 10 === 3 && n !== 13 ? "rd" : "th";
  return `${String(n)}${tail}`;
}
