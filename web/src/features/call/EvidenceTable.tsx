import { Box, Flex, Table, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { percent, Sideways } from "../../ui";
import { WeightMark } from "./marks";
import { type Column, weightOf } from "./rows";

type Fault = Schemas["FaultResult"];
type Props = { rows: readonly Fault[]; columns: readonly Column[]; at: number; onPick: (row: number) => void };

const GATES: Record<Schemas["WithoutKind"]["teardown"], string> = {
  go: "open up",
  confirm_first: "confirm first",
  no: "stay on",
};

/** Explanations against kinds of evidence: at a glance what rests on what, and what is missing. Its foot is the call
 * without each kind. */
export function EvidenceTable({ rows, columns, at, onPick }: Props) {
  return (
    <Sideways label="Evidence" mb="4" borderTopWidth="1px" borderColor="line" data-testid="evidence-table">
      <Table.Root size="sm" fontSize="13px" css={{ "& td, & th": { paddingInline: "6px", paddingBlock: "3px" } }}>
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader color="mute" fontWeight="400" minW="180px">
              <Flex gap="3" align="center">
                Explanation
                <Key bits={3} text="for" />
                <Key bits={-3} text="against" />
              </Flex>
            </Table.ColumnHeader>
            {columns.map((column) => (
              <Table.ColumnHeader key={column.kind} textAlign="center" fontWeight="620" color={column.without ? "ink" : "mute"}>
                {column.name}
                {!column.without && (
                  <Text fontSize="13px" fontWeight="400">
                    not yet
                  </Text>
                )}
              </Table.ColumnHeader>
            ))}
            <Table.ColumnHeader textAlign="end" color="mute" fontWeight="400">
              Chance
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((row, i) => (
            <Table.Row
              key={row.fault}
              bg={i === at ? "soft" : "transparent"}
              cursor="pointer"
              onClick={() => onPick(i)}
              data-testid={`row-${row.fault}`}
            >
              <Table.Cell
                fontWeight="620"
                borderLeftWidth="4px"
                borderLeftColor={i === at ? "petrol" : "transparent"}
                lineHeight="1.25"
              >
                <Box as="button" textAlign="start" minH="24px" w="full" aria-pressed={i === at}>
                  {row.title}
                </Box>
              </Table.Cell>
              {columns.map((column) => (
                <Cell key={column.kind} bits={weightOf(row, column.kind)} missing={!column.without} />
              ))}
              <Table.Cell textAlign="end" fontWeight={i === 0 ? "720" : "400"} whiteSpace="nowrap">
                {percent(row.probability)}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
        <Foot columns={columns} />
      </Table.Root>
    </Sideways>
  );
}

function Key({ bits, text }: { bits: number; text: string }) {
  return (
    <Flex align="center" fontSize="13px">
      <WeightMark bits={bits} side={8} />
      {text}
    </Flex>
  );
}

function Cell({ bits, missing }: { bits: number | null; missing: boolean }) {
  return (
    <Table.Cell textAlign="center">
      <Flex justify="center" minH="24px" align="center" color="mute">
        {bits !== null ? <WeightMark bits={bits} /> : missing ? "·" : null}
      </Flex>
    </Table.Cell>
  );
}

function Foot({ columns }: { columns: readonly Column[] }) {
  return (
    <Table.Footer>
      <Table.Row bg="transparent" data-testid="without">
        <Table.Cell lineHeight="1.25">
          <Text fontWeight="620">The call without it</Text>
          <Text color="mute" fontSize="13px">
            if this kind were missing
          </Text>
        </Table.Cell>
        {columns.map((column) => (
          <Table.Cell key={column.kind} textAlign="center" lineHeight="1.25" title={column.without?.words}>
            {column.without ? (
              <>
                <Text fontWeight="620">{percent(column.without.probability)}</Text>
                <Text fontSize="13px" color="mute" whiteSpace="nowrap">
                  {GATES[column.without.teardown]}
                </Text>
              </>
            ) : (
              <Text fontSize="13px" color="mute">
                not looked at
              </Text>
            )}
          </Table.Cell>
        ))}
        <Table.Cell />
      </Table.Row>
    </Table.Footer>
  );
}
