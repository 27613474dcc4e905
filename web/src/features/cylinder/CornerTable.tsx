/** The corners as figures: valve against profile, signal of its cam beside it, one under the other. */
import { Table, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { offsetWords, plusMinus } from "../../ui";
import { WhyMark } from "../why";

type Props = { captureId: number; cylinder: number; corners: Schemas["CornerMark"][] };

export function CornerTable({ captureId, cylinder, corners }: Props) {
  if (!corners.length) return null;
  return (
    <Table.Root size="sm" mt="3" maxW="760px" data-testid="corners" fontSize="13.5px" css={{ "& td, & th": { fontVariantNumeric: "tabular-nums" } }}>
      <Table.Header>
        <Table.Row bg="panel">
          {["Valve", "at, after its TDC", "profile", "valves", "signal of its cam", "so"].map((name) => (
            <Table.ColumnHeader key={name}>{name}</Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {corners.map((corner) => (
          <Table.Row key={`${corner.valve} ${corner.what}`} bg="panel">
            <Table.Cell fontWeight="650">
              {corner.valve} {corner.what}
              {corner.by_hand && (
                <Text as="span" fontWeight="400" color="mute">
                  {" "}
                  by hand
                </Text>
              )}
            </Table.Cell>
            <Table.Cell>
              {corner.angle_deg.toFixed(0)}° {plusMinus(corner.u95_deg)}°
              <WhyMark id={`${String(captureId)}/corner/${String(cylinder)}/${corner.valve}/${corner.what}`} about={`${corner.valve} ${corner.what}`} />
            </Table.Cell>
            <Table.Cell>{corner.profile_deg === null ? "not known" : `${corner.profile_deg.toFixed(0)}°`}</Table.Cell>
            <Table.Cell fontWeight="650">{corner.offset_deg === null ? "–" : offsetWords(corner.offset_deg, corner.u95_deg)}</Table.Cell>
            <Table.Cell>{corner.signal_deg === null ? "not measured" : offsetWords(corner.signal_deg)}</Table.Cell>
            <Table.Cell>
              <Text as="span" color={corner.follows === false ? "late" : "ink"}>
                {corner.follows === null ? "" : corner.follows ? "they agree" : "they do not agree"}
              </Text>
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
