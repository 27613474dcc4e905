import { Box, Table, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { SOURCE_WORDS, spreadWords } from "./words";

type View = Schemas["CompressionView"];

/** What each source says alone, and the standing list of what such a measurement cannot show. */
export function BlindSpots({ view }: { view: View }) {
  return (
    <>
      {view.named && view.curves.length > 1 && <SourceTable view={view} />}
      {view.disagree && (
        <Text mt="2" fontWeight="650">
          The sources disagree about a cylinder by more than they may.
        </Text>
      )}
      <Box mt="3" fontSize="13.5px" maxW="820px" data-testid="blind-spots">
        <Text fontWeight="680">Not shown by this</Text>
        <Box as="ul" listStyleType="none" color="mute">
          {view.blind_spots.map((spot) => (
            <li key={spot}>{spot}</li>
          ))}
        </Box>
      </Box>
    </>
  );
}

/** How far each cylinder's own cycles lie apart, and whether they repeat. */
function SpreadRow({ view }: { view: View }) {
  return (
    <Table.Row bg="transparent" data-testid="spreads">
      <Table.Cell py="1" fontSize="13.5px" borderColor="line" color="mute">
        From cycle to cycle
      </Table.Cell>
      {view.bars.map((bar) => (
        <Table.Cell key={bar.cylinder} py="1" fontSize="13.5px" borderColor="line" textAlign="end" color={bar.repeats === false ? "late" : "mute"}>
          {spreadWords(bar)}
        </Table.Cell>
      ))}
    </Table.Row>
  );
}

function SourceTable({ view }: { view: View }) {
  return (
    <Table.Root size="sm" mt="2" data-testid="sources">
      <Table.Header>
        <Table.Row bg="transparent">
          {["Source alone", ...view.bars.map((bar) => `Cyl. ${String(bar.cylinder)}`)].map((title, i) => (
            <Table.ColumnHeader key={title} py="1" color="mute" fontSize="13px" fontWeight="400" borderColor="line" textAlign={i ? "end" : "start"}>
              {title}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {view.curves.map((curve, k) => (
          <Table.Row key={`${curve.source} ${curve.channel}`} bg="transparent">
            <Table.Cell py="1" fontSize="13.5px" borderColor="line">
              {[SOURCE_WORDS[curve.source], curve.channel].filter(Boolean).join(" ")}
            </Table.Cell>
            {view.bars.map((bar) => (
              <Table.Cell key={bar.cylinder} py="1" fontSize="13.5px" borderColor="line" textAlign="end">
                {Math.round(100 * (bar.by_source[k] ?? NaN))} %
              </Table.Cell>
            ))}
          </Table.Row>
        ))}
        {view.bars.some((bar) => typeof bar.spread === "number") && <SpreadRow view={view} />}
      </Table.Body>
    </Table.Root>
  );
}
