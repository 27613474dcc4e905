/** What the engine does when a signal is lost, and where to look: a table to compare the symptom with. */
import { Box, Table } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { PanelTitle, QuietTable } from "../../ui";

export function LostSignals({ rows }: { rows: Schemas["LostSignal"][] }) {
  return (
    <Box as="section" aria-label="When a signal is lost" mb="6">
      <PanelTitle note="common practice; strategies differ from maker to maker">When a signal is lost</PanelTitle>
      <QuietTable label="When a signal is lost" heads={["Signal", "While starting", "While running", "Where to look, in order"]}>
        {rows.map((row) => (
          <Table.Row key={row.signal}>
            <Table.Cell fontWeight="600" minW="120px">{row.signal}</Table.Cell>
            <Table.Cell>{row.starting}</Table.Cell>
            <Table.Cell>{row.running}</Table.Cell>
            <Table.Cell minW="260px">
              <ol>
                {row.look.map((step, i) => (
                  <li key={step}>
                    {i + 1}. {step}
                  </li>
                ))}
              </ol>
            </Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
    </Box>
  );
}
