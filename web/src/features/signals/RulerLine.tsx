import { ink } from "../../ui/theme";
import { SvgText } from "../../ui";

type LineProps = {
  name: string;
  px: number;
  /** Where it stands, between which ends, and how that is said. */
  timeMs: number;
  wholeMs: [number, number];
  words: string;
  height: number;
  limits: [number, number];
  onMove: (px: number) => void;
  onNudge: (by: number) => void;
  onStep: (by: number) => void;
};

/** A ruler: drag it, or focus it and use the arrow keys (with Shift ten pixels, up and down from edge to edge). */
export function RulerLine({ name, px, timeMs, wholeMs, words, height, limits, onMove, onNudge, onStep }: LineProps) {
  const at = Math.min(Math.max(px, limits[0]), limits[1]);
  return (
    <g
      tabIndex={0}
      role="slider"
      aria-label={`Ruler ${name}`}
      aria-orientation="horizontal"
      aria-valuenow={Number(timeMs.toFixed(2))}
      aria-valuemin={Number(wholeMs[0].toFixed(2))}
      aria-valuemax={Number(wholeMs[1].toFixed(2))}
      aria-valuetext={words}
      style={{ cursor: "ew-resize" }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const left = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
        onMove(Math.min(Math.max(event.clientX - left, limits[0]), limits[1]));
      }}
      onKeyDown={(event) => {
        const sideways = event.key === "ArrowLeft" || event.key === "ArrowRight";
        if (!sideways && event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        event.stopPropagation();
        event.nativeEvent.stopImmediatePropagation();
        const back = event.key === "ArrowLeft" || event.key === "ArrowDown";
        if (sideways) onNudge((back ? -1 : 1) * (event.shiftKey ? 10 : 1));
        else onStep(back ? -1 : 1);
      }}
    >
      <line x1={at} x2={at} y1="0" y2={height} stroke={ink("petrol")} strokeWidth="1.6" />
      <rect x={at - 9} y="0" width="18" height={height} fill="transparent" />
      <rect x={at - 8} y="0" width="16" height="16" rx="2" fill={ink("petrol")} />
      <SvgText x={at} y="12" textAnchor="middle" size={11} weight={700} fill={ink("onPetrol")}>
        {name}
      </SvgText>
    </g>
  );
}
