import { Box, Table } from "@chakra-ui/react";

import { offsetWords, plusMinus, Sideways } from "../../ui";
import { WhyMark } from "../why";
import type { Lane } from "./strip-geometry";

/** Every cam's numbers side by side. */
type Props = { captureId: number; lanes: Lane[]; pitchDeg: number | null };

export function CamTable({ captureId, lanes, pitchDeg }: Props) {
  const states = new Set(lanes.map((lane) => lane.segment));
  const heads = ["Cam", "Offset", "Measured to", "Wheel teeth", "Pitches", "At the cam", "Spread per cycle", "Limit"];
  return (
    <Sideways label="Offsets of the cams" mt="3">
      <Table.Root
        size="sm"
        css={{
          "& th, & td": { borderColor: "line", bg: "transparent", color: "ink", px: "2", textAlign: "end" },
          "& td": { whiteSpace: "nowrap" },
          "& th": { color: "mute", fontSize: "13px", fontWeight: 500 },
          "& th:first-of-type, & td:first-of-type": { textAlign: "start" },
        }}
      >
        <Table.Header>
          <Table.Row bg="transparent">
            {heads.map((head) => (
              <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {lanes.map((lane) => (
            <Table.Row key={`${lane.cam} ${lane.segment}`} bg="transparent" data-testid="cam-row">
              <Table.Cell>
                <b>{lane.name}</b>
                {states.size > 1 && `, ${lane.segment}`}
              </Table.Cell>
              <Table.Cell whiteSpace="nowrap">
                <Box
                  as="span"
                  fontWeight="680"
                  css={{ color: lane.state === "in" || lane.state === null ? "ink" : "late" }}
                  title={`against ${lane.reference === "profile" ? "the profile" : lane.reference}, reference and index included`}
                >
                  {lane.offset_deg === null || lane.total_u95_deg === null
                    ? "nothing to compare with"
                    : `${offsetWords(lane.offset_deg, lane.total_u95_deg)} ${plusMinus(lane.total_u95_deg)}°`}
                </Box>
                {lane.offset_deg !== null && (
                  <WhyMark id={`${String(captureId)}/cam/${lane.cam}/${lane.segment}`} about={`${lane.name}, offset`} />
                )}
              </Table.Cell>
              <Table.Cell whiteSpace="nowrap" title="the measurement alone: noise, cycles, clock">
                {lane.offset_u95_deg === null ? "–" : `${plusMinus(lane.offset_u95_deg)}°`}
              </Table.Cell>
              <Table.Cell>{pitchDeg && lane.wheel_teeth !== null ? Math.abs(lane.wheel_teeth).toFixed(1) : "–"}</Table.Cell>
              <Table.Cell>{lane.pitches === null ? "–" : Math.abs(lane.pitches).toFixed(2)}</Table.Cell>
              <Table.Cell>{lane.offset_deg === null ? "–" : `${(Math.abs(lane.offset_deg) / 2).toFixed(1)}°`}</Table.Cell>
              <Table.Cell>{lane.cycle_spread_deg.toFixed(lane.cycle_spread_deg < 0.1 ? 2 : 1)}°</Table.Cell>
              <Table.Cell title="from the profile">{lane.tolerance_deg}°, profile</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Sideways>
  );
}
