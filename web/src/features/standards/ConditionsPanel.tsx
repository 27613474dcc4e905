/** Every cam in every condition on one strip and in one table: cold and hot, cranking and running, before and after. */
import { Box, Table, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";

import type { Schemas } from "../../api/client";
import { offsetWords, PanelTitle, plusMinus, QuietTable, SvgText, useWidth } from "../../ui";
import { ink } from "../../ui/theme";
import { nameOf } from "./StandardsPanel";

type Row = Schemas["ConditionRow"];
type Props = { conditions: Schemas["ConditionsResult"] | null; lanes: Schemas["CamLane"][]; steps: Schemas["CamResult"][] };

const [ROW, LEFT, RIGHT, TOP] = [26, 250, 16, 22];

export function ConditionsPanel({ conditions, lanes, steps }: Props) {
  const moved = steps.filter((cam) => cam.step);
  return (
    <Box data-testid="conditions">
      <PanelTitle>The same cams in every condition</PanelTitle>
      {!conditions && (
        <Text fontSize="13.5px" maxW="720px">
          Read in one condition only. Record the same signals cold and hot, cranking and idling: what stays is the drive, what comes and goes is a phaser's lock, oil, or a tensioner.
        </Text>
      )}
      {moved.map((cam) => (
        <Text key={`${cam.cam} ${cam.segment ?? ""}`} fontSize="13.5px" data-testid="step-words">
          {nameOf(lanes, cam.cam)} moves from {offsetWords(cam.step?.before_deg ?? 0)} to {offsetWords(cam.step?.after_deg ?? 0)} at {cam.step?.time_s.toFixed(1)} s
          {cam.step?.happened?.length ? `: then ${cam.step.happened.join(", ")}.` : "; nothing else changed then."}
        </Text>
      ))}
      {conditions && <Strip rows={conditions.rows} lanes={lanes} />}
      {(conditions?.said ?? []).map((text) => (
        <Box key={text} fontSize="13.5px" mb="1" borderLeftWidth="3px" borderColor="late" pl="2.5" maxW="760px">
          {text}
        </Box>
      ))}
      {conditions && (
        <QuietTable label="Conditions" heads={["Cam", "Capture", "State", "Reads"]}>
          {conditions.rows.map((row, i) => (
            <Table.Row key={i} bg="transparent" data-testid="condition-row">
              <Table.Cell whiteSpace="nowrap">{nameOf(lanes, row.cam)}</Table.Cell>
              <Table.Cell>{row.file.replace(".capture.json", "")}</Table.Cell>
              <Table.Cell>{stateWords(row)}</Table.Cell>
              <Table.Cell whiteSpace="nowrap">
                {offsetWords(row.offset_deg, row.total_u95_deg)} {plusMinus(row.total_u95_deg)}°
              </Table.Cell>
            </Table.Row>
          ))}
        </QuietTable>
      )}
    </Box>
  );
}

function Strip({ rows, lanes }: { rows: Row[]; lanes: Schemas["CamLane"][] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const sorted = [...rows].sort((a, b) => a.cam.localeCompare(b.cam) || stateWords(a).localeCompare(stateWords(b)));
  const ends = rows.flatMap((row) => [row.offset_deg - row.total_u95_deg, row.offset_deg + row.total_u95_deg, 0]);
  const right = Math.max(width, 340) - RIGHT;
  const x = scaleLinear([Math.min(...ends) - 1, Math.max(...ends) + 1], [LEFT, right]);
  const height = TOP + ROW * sorted.length + 8;
  return (
    <Box ref={ref} maxW="860px" mb="2">
      {width > 0 && (
        <svg width={width} height={height} role="img" aria-label="Offsets of every cam in every condition" style={{ display: "block" }}>
          {x.ticks(6).map((deg) => (
            <g key={deg}>
              <line x1={x(deg)} x2={x(deg)} y1={TOP - 4} y2={height - 6} stroke={ink("line")} strokeWidth={deg === 0 ? 1.8 : 0.8} />
              <SvgText x={x(deg)} y={12} textAnchor="middle" size={11.5} fill={ink("mute")}>
                {deg === 0 ? "0°" : `${String(Math.abs(deg))}° ${deg > 0 ? "late" : "early"}`}
              </SvgText>
            </g>
          ))}
          {sorted.map((row, i) => {
            const y = TOP + ROW * (i + 0.5);
            const lane = lanes.find((one) => one.cam === row.cam);
            const color = ink(lane?.shaft === "exhaust" ? "exhaust" : "intake");
            return (
              <g key={i}>
                <SvgText x={LEFT - 10} y={y + 4} textAnchor="end" size={12} fill={ink("ink")}>
                  {`${nameOf(lanes, row.cam)}, ${stateWords(row)}`}
                </SvgText>
                <line x1={x(row.offset_deg - row.total_u95_deg)} x2={x(row.offset_deg + row.total_u95_deg)} y1={y} y2={y} stroke={color} strokeWidth="2" />
                <circle cx={x(row.offset_deg)} cy={y} r="5" fill={row.repair === "after" ? ink("panel") : color} stroke={color} strokeWidth="2" />
              </g>
            );
          })}
        </svg>
      )}
    </Box>
  );
}

function stateWords(row: Row): string {
  const words = [row.temperature, row.segment];
  if (row.symptom !== "unknown") words.push(row.symptom === "present" ? "symptom there" : "no symptom");
  if (row.repair === "after") words.push("after repair");
  return words.filter((word) => word !== "unknown").join(" ");
}
