import { Box } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { SvgText } from "../../ui";

type Mark = Schemas["MarkResult"];

const RADIUS = 42;
const APART = 108;
const MARK_SEEN_DEG = 1;

/** The cam sprockets seen from the front, turning clockwise: dashed where a mark belongs, solid where it stands. */
export function MarksDrawing({ marks }: { marks: readonly Mark[] }) {
  if (!marks.length) return null;
  const width = Math.max(250, APART * marks.length + 34);
  const first = width / 2 - (APART * (marks.length - 1)) / 2;
  const told = marks.map((mark) => `${mark.name} ${offWords(mark)}`).join(", ");
  return (
    <Box w={marks.length > 2 ? "340px" : "200px"} maxW="full" flex="none">
      <svg viewBox={`0 0 ${width} 176`} role="img" aria-label={`Marks with the crank on its own: ${told}`}>
        {marks.map((mark, i) => (
          <Sprocket key={mark.cam} x={first + i * APART} mark={mark} />
        ))}
        <circle cx={width / 2} cy="144" r="17" fill="none" stroke="var(--chakra-colors-mute)" strokeWidth="4" strokeDasharray="3 2" />
        <line x1={width / 2} x2={width / 2} y1="122" y2="144" stroke="var(--chakra-colors-ink)" strokeWidth="2.5" />
        <SvgText x={width / 2 + 26} y={142} size={11} fill="var(--chakra-colors-mute)">
          crank on its
        </SvgText>
        <SvgText x={width / 2 + 26} y={155} size={11} fill="var(--chakra-colors-mute)">
          own mark
        </SvgText>
        <path d="M22 158a13 13 0 1 1 24 0" fill="none" stroke="var(--chakra-colors-mute)" strokeWidth="1.6" />
        <path d="M42 157h8l-4 6z" fill="var(--chakra-colors-mute)" />
        <SvgText x={58} y={160} size={11} fill="var(--chakra-colors-mute)">
          turns
        </SvgText>
      </svg>
    </Box>
  );
}

function offWords({ off_deg, teeth }: Mark): string {
  if (Math.abs(off_deg) < MARK_SEEN_DEG) return "in place";
  const way = off_deg > 0 ? "late" : "early";
  if (teeth === null) return `${Math.abs(off_deg / 2).toFixed(0)}° ${way}`;
  const size = Math.abs(teeth).toFixed(1);
  return `${size.endsWith(".0") ? size.slice(0, -2) : size} ${size === "1.0" ? "tooth" : "teeth"} ${way}`;
}

function Sprocket({ x, mark }: { x: number; mark: Mark }) {
  const y = 52;
  const off = Math.abs(mark.off_deg) >= MARK_SEEN_DEG;
  // Late is against the turning: the mark has not come as far as it should. The cam turns half as far as the crank.
  const turned = `rotate(${-mark.off_deg / 2} ${x} ${y})`;
  const colour = off ? "var(--chakra-colors-late)" : "var(--chakra-colors-ink)";
  return (
    <g textAnchor="middle">
      <circle cx={x} cy={y} r={RADIUS} fill="var(--chakra-colors-panel)" stroke="var(--chakra-colors-mute)" strokeWidth="4" strokeDasharray="4 2.3" />
      <line x1={x} x2={x} y1={y - RADIUS - 8} y2={y - 12} stroke="var(--chakra-colors-ink)" strokeWidth="1.2" strokeDasharray="3 2" />
      <line x1={x} x2={x} y1={y - RADIUS + 2} y2={y - 14} stroke={colour} strokeWidth="3.5" transform={turned} />
      <SvgText x={x} y={y + 6} size={11} weight={650} fill="var(--chakra-colors-ink)">
        {mark.name.replace(/ cam$/, "")}
      </SvgText>
      <SvgText x={x} y={y + 20} size={11} weight={650} fill={colour}>
        {offWords(mark)}
      </SvgText>
    </g>
  );
}
