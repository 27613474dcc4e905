/** All cylinders side by side in firing order: felt ones measured, the others reckoned from how much they compress. */
import { Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { pressureFigure, type PressureUnit, Sideways, SvgText } from "../../ui";
import { ink } from "../../ui/theme";

const [HEIGHT, TOP, BAR] = [150, 8, 34];

export function AllCylinders({ picture, picked, unit }: { picture: Schemas["CylinderPicture"]; picked: number; unit: PressureUnit }) {
  const known = picture.peaks.filter((peak) => peak.peak_bar !== null);
  if (!known.length) return null;
  const highest = Math.max(...picture.peaks.map((p) => Math.max((p.peak_bar ?? 0) + (p.u95_bar ?? 0), p.expected_bar ?? 0)));
  const y = scaleLinear([0, 1.1 * highest], [HEIGHT - 26, TOP]);
  const step = Math.max(BAR + 8, 46);
  const width = step * picture.peaks.length + 4;
  const expected = picture.peaks[0]?.expected_bar ?? null;
  return (
    <Sideways label="All cylinders" data-testid="all-cylinders" maxW="100%">
      <Text fontWeight="650" fontSize="13.5px">
        All cylinders
      </Text>
      <Text fontSize="13px" color="mute">
        peak in {unit}; dashed line: expected of a sound one
      </Text>
      <svg width={width} height={HEIGHT} role="img" aria-label={words(picture, unit)} style={{ display: "block" }}>
        {picture.peaks.map((peak, i) => (
          <Column key={peak.cylinder} peak={peak} x={4 + step * i} y={y} picked={peak.cylinder === picked} unit={unit} />
        ))}
        {expected !== null && <line x1="0" x2={width} y1={y(expected)} y2={y(expected)} stroke={ink("mute")} strokeDasharray="4 3" strokeWidth="1.4" />}
      </svg>
      <Text fontSize="13px" color="mute" maxW="260px">
        {known.some((p) => p.measured) ? "Violet by transducer; pale ones reckoned from their humps, without corners." : ""}
      </Text>
    </Sideways>
  );
}

type ColumnProps = { peak: Schemas["PeakBar"]; x: number; y: (bar: number) => number; picked: boolean; unit: PressureUnit };

function Column({ peak, x, y, picked, unit }: ColumnProps) {
  const mid = x + BAR / 2;
  const [value, half] = [peak.peak_bar, peak.u95_bar ?? 0];
  return (
    <g>
      <rect x={x} y={TOP} width={BAR} height={y(0) - TOP} fill="none" stroke={ink("line")} />
      {value !== null && (
        <>
          <rect x={x + 2} y={y(value)} width={BAR - 4} height={Math.max(1, y(0) - y(value))} fill={ink(peak.measured ? "pressure" : "current")} opacity={peak.measured ? 0.95 : 0.5} />
          <line x1={mid} x2={mid} y1={y(value - half)} y2={y(value + half)} stroke={ink("ink")} strokeWidth="2" />
          <SvgText x={mid} y={y(0) - 6} textAnchor="middle" size={11.5} weight={650} fill={ink(peak.measured ? "paper" : "ink")}>
            {pressureFigure(value, unit)}
          </SvgText>
        </>
      )}
      <circle cx={mid} cy={HEIGHT - 12} r="10" fill={ink(picked ? "pressure" : "panel")} stroke={ink("ink")} />
      <SvgText x={mid} y={HEIGHT - 8} textAnchor="middle" size={12} weight={650} fill={ink(picked ? "paper" : "ink")}>
        {peak.cylinder}
      </SvgText>
    </g>
  );
}

function words(picture: Schemas["CylinderPicture"], unit: PressureUnit): string {
  return picture.peaks
    .map((p) => `Cylinder ${String(p.cylinder)} ${p.peak_bar === null ? "not known" : `${pressureFigure(p.peak_bar, unit)} ${unit} ${p.measured ? "measured" : "reckoned"}`}`)
    .join("; ");
}
