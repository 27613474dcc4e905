/** One line per signal over the whole capture: whole, irregular, gone, standing still; with the marks a person set. */
import { Box } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { SvgText, useWidth } from "../../ui";
import { LABEL_PX, type Strip } from "./strip-geometry";

const LINE_H = 20;
const MARK_H = 18;

type Span = Schemas["HealthSpan"];
type Props = { strip: Strip; health: Schemas["SignalHealth"][]; onLook: (timeS: number, toS: number, spanS: number) => void };

export function HealthLines({ strip, health, onLook }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const right = Math.max(width, 340) - 14;
  const x = (s: number) => LABEL_PX + ((s - strip.start_s) / strip.duration_s) * (right - LABEL_PX);
  const top = strip.marks.length ? MARK_H : 2;
  const height = top + health.length * LINE_H + 4;
  const names = new Map(strip.lanes.map((lane) => [lane.cam, lane.name]));
  if (!health.length) return <Box ref={ref} />;
  return (
    <Box ref={ref} mt="1.5" data-testid="health">
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label={healthWords(health, names)} style={{ display: "block" }}>
          {health.map((line, i) => (
            <g key={line.signal}>
              <SvgText x="0" y={top + i * LINE_H + 13} size={12} fill={ink("mute")}>
                {shortName(names.get(line.signal) ?? line.signal)}
              </SvgText>
              {line.spans.map((span) => (
                <HealthStretch
                  key={span.from_s}
                  span={span}
                  x={x}
                  y={top + i * LINE_H + 3}
                  onLook={() => onLook(span.from_s, span.to_s, Math.max(0.06, 1.6 * (span.to_s - span.from_s)))}
                />
              ))}
            </g>
          ))}
          {strip.marks.map((mark) => (
            <g key={`${mark.time_s} ${mark.text}`} style={{ cursor: "pointer" }} onClick={() => onLook(mark.time_s, mark.time_s, 0.4)} data-testid="mark">
              <line x1={x(mark.time_s)} x2={x(mark.time_s)} y1="4" y2={height - 4} stroke={ink("petrol")} strokeWidth="1.6" />
              <path d={`M${x(mark.time_s)} 3h7l-3 4 3 4h-7z`} fill={ink("petrol")} />
              <SvgText x={x(mark.time_s) + 10} y="12" size={11} fill={ink("petrol")}>
                {mark.text || "mark"}
              </SvgText>
            </g>
          ))}
        </svg>
      )}
    </Box>
  );
}

type StretchProps = { span: Span; x: (s: number) => number; y: number; onLook: () => void };

/** Whole: a quiet band. Irregular: full, with a notch. Gone: an outlined, empty box. Standing or unread: a thin line. */
function HealthStretch({ span, x, y, onLook }: StretchProps) {
  const from = x(span.from_s);
  const width = Math.max(2, x(span.to_s) - from);
  const title = <title>{`${WORDS[span.state]}, ${span.from_s.toFixed(2)} to ${span.to_s.toFixed(2)} s`}</title>;
  if (span.state === "standing" || span.state === "unread")
    return (
      <line x1={from} x2={from + width} y1={y + 7} y2={y + 7} stroke={ink("mute")} strokeDasharray={span.state === "unread" ? "2 3" : "1 6"}>
        {title}
      </line>
    );
  if (span.state === "good")
    return (
      <rect x={from} y={y + 4} width={width} height="6" fill={ink("crank")} opacity="0.45">
        {title}
      </rect>
    );
  const gone = span.state === "silent";
  return (
    <g style={{ cursor: "pointer" }} onClick={onLook}>
      <rect
        x={from}
        y={y}
        width={Math.max(4, width)}
        height="14"
        fill={gone ? ink("paper") : ink("late")}
        stroke={ink("late")}
        strokeWidth="1.4"
        strokeDasharray={gone ? "3 2" : undefined}
      >
        {title}
      </rect>
    </g>
  );
}

const WORDS: Record<Span["state"], string> = {
  good: "whole",
  irregular: "pulses lost or added",
  silent: "no signal though the engine turns",
  standing: "engine stands",
  unread: "not measured: starting or stopping",
};

function shortName(name: string): string {
  const text = name === "crank" ? "Crank" : name.replace(/^Bank (\d) (\w+) cam$/, "B$1 $2");
  return text.length > 15 ? `${text.slice(0, 14)}…` : text;
}

function healthWords(health: Schemas["SignalHealth"][], names: Map<string, string>): string {
  const odd = health.map((line) => {
    const bad = line.spans.filter((s) => s.state === "irregular" || s.state === "silent").length;
    return `${names.get(line.signal) ?? line.signal}: ${bad ? `${bad} bad stretches` : "whole"}`;
  });
  return `Health of the signals over the capture. ${odd.join(", ")}`;
}
