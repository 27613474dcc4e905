/** Every car's offset of one cam, over distance or age; the band in which a sound car of the kind reads. */
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { SvgText, useWidth, withHalf } from "../../ui";

export type Along = "distance" | "age";
type Cam = Schemas["CamView"];
type Point = Schemas["PointView"];
type Props = { cam: Cam; along: Along; engine: string };

const HEIGHT = 320;
const LEFT = 52;
const BOTTOM = 40;
const TOP = 12;
const APART_SDS = 3;
const color = (name: string) => `var(--chakra-colors-${name})`;

const placeOf = (point: Point, along: Along) => (along === "distance" ? point.distance_km : point.age_years);

export function CarsPicture({ cam, along, engine }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const known = cam.points.filter((point) => typeof placeOf(point, along) === "number");
  const unknown = cam.points.length - known.length;
  return (
    <Box ref={ref} data-testid="cars">
      {known.length === 0 ? (
        <Text py="6" color="mute">
          No car's {along === "distance" ? "distance" : "age"} is known. It is told at each job's Complaint{along === "age" ? ", with the year the car was built in" : ""}.
        </Text>
      ) : (
        width > 0 && <Drawn cam={cam} along={along} engine={engine} points={known} width={width} />
      )}
      {known.length > 0 && unknown > 0 && (
        <Text color="mute" fontSize="13px">
          {unknown === 1 ? "One car" : `${String(unknown)} cars`} of unknown {along} {unknown === 1 ? "is" : "are"} not drawn.
        </Text>
      )}
    </Box>
  );
}

function Drawn({ cam, along, engine, points, width }: Props & { points: Point[]; width: number }) {
  const furthest = Math.max(...points.map((point) => placeOf(point, along) ?? 0), 1);
  const x = scaleLinear([0, furthest * 1.03], [LEFT, width - 10]);
  const slope = along === "distance" && cam.wear_deg ? cam.wear_deg.value / 10_000 : 0;
  const expected = (place: number) => cam.edge_deg.value + slope * place;
  const reach = points.flatMap((point) => [point.offset_deg - point.u95_deg, point.offset_deg + point.u95_deg]);
  const band = [0, furthest].flatMap((place) => [expected(place) - cam.usual_u95_deg, expected(place) + cam.usual_u95_deg]);
  const y = scaleLinear([Math.min(0, ...reach, ...band), Math.max(0, ...reach, ...band)], [HEIGHT - BOTTOM, TOP]).nice();
  const corners = [0, furthest * 1.03];
  const edge = (sign: number) => corners.map((place) => `${String(x(place))},${String(y(expected(place) + sign * cam.usual_u95_deg))}`);
  const far = points.filter((point) => Math.abs(point.apart_sds) >= APART_SDS).length;
  const about = `${cam.cam} of ${engine}: ${String(points.length)} cars over ${along}, ${far === 1 ? "one lies" : `${String(far)} lie`} apart`;
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={about}>
      {along === "distance" && <polygon points={[...edge(1), ...edge(-1).reverse()].join(" ")} fill={color("petrol-soft")} />}
      {y.ticks(6).map((tick) => (
        <g key={tick}>
          <line x1={LEFT} x2={width - 10} y1={y(tick)} y2={y(tick)} stroke={color("line")} strokeWidth={tick === 0 ? 2 : 1} />
          <SvgText size={12} x={LEFT - 6} y={y(tick) + 4} textAnchor="end" fill={color("mute")}>
            {`${tick > 0 ? "+" : tick < 0 ? "−" : ""}${String(Math.abs(tick))}°`}
          </SvgText>
        </g>
      ))}
      {x.ticks(width < 600 ? 4 : 8).map((tick) => (
        <SvgText key={tick} size={12} x={x(tick)} y={HEIGHT - BOTTOM + 17} textAnchor="middle" fill={color("mute")}>
          {along === "distance" ? String(Math.round(tick / 1000)) : String(tick)}
        </SvgText>
      ))}
      <SvgText size={12} x={width - 10} y={HEIGHT - 6} textAnchor="end" fill={color("mute")}>
        {along === "distance" ? "thousand km" : "years"}
      </SvgText>
      <SvgText size={12} x={LEFT} y={HEIGHT - 6} fill={color("mute")}>
        degrees of the crank, late above
      </SvgText>
      {along === "distance" && (
        <line x1={x(0)} x2={x(furthest * 1.03)} y1={y(expected(0))} y2={y(expected(furthest * 1.03))} stroke={color("petrol")} strokeWidth="2" />
      )}
      {points.map((point) => (
        <Car key={point.unit} point={point} at={x(placeOf(point, along) ?? 0)} y={y} />
      ))}
    </svg>
  );
}

function Car({ point, at, y }: { point: Point; at: number; y: (offset: number) => number }) {
  const apart = Math.abs(point.apart_sds) >= APART_SDS;
  return (
    <g>
      <title>{`${point.name}: ${withHalf({ value: point.offset_deg, u95: point.u95_deg })}`}</title>
      <line x1={at} x2={at} y1={y(point.offset_deg - point.u95_deg)} y2={y(point.offset_deg + point.u95_deg)} stroke={color(apart ? "late" : "petrol")} strokeOpacity="0.5" />
      {apart ? (
        <rect x={at - 4} y={y(point.offset_deg) - 4} width="8" height="8" fill={color("late")} />
      ) : (
        <circle cx={at} cy={y(point.offset_deg)} r="3" fill={color("petrol")} fillOpacity={1 - 0.7 * point.moved} />
      )}
    </g>
  );
}
