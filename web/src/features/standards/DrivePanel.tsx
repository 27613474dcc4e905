/** The timing drive: what moved together, where that points, and the chain's own arithmetic. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import type { Schemas } from "../../api/client";
import { enginePageQuery } from "../../api/queries";
import { ErrorNote, offsetWords, PanelTitle, plusMinus, QuietTable, signWord, Waiting } from "../../ui";
import { WhyMark } from "../why";
import { DriveDrawing } from "../engines";
import { nameOf } from "./StandardsPanel";

type Props = {
  engineId: number;
  result: Schemas["CaptureResult"];
  elongation: Schemas["ElongationResult"] | null;
  lanes: Schemas["CamLane"][];
};

export function DrivePanel({ engineId, result, elongation, lanes }: Props) {
  const engine = useQuery(enginePageQuery(engineId));
  const together = result.together ?? null;
  const chain = result.chain ?? [];
  const drawing = engine.data?.reading.drawing;
  const off = Object.fromEntries(
    lanes.flatMap((lane) => (lane.offset_deg === null || lane.total_u95_deg === null ? [] : [[lane.cam, offsetWords(lane.offset_deg, lane.total_u95_deg)]])),
  );
  return (
    <Box data-testid="drive-panel">
      <PanelTitle>What moved together</PanelTitle>
      <Text fontSize="15px" fontWeight="620" maxW="760px" data-testid="together">
        {together?.text ?? "Fewer than two cams are compared with anything: what moves together is not known yet."}
      </Text>
      <Flex gap="6" wrap="wrap" align="flex-start" mt="2">
        <Box flex="1 1 420px" maxW="520px">
          {engine.isPending && <Waiting>Drawing the drive</Waiting>}
          {engine.isError && <ErrorNote error={engine.error} onRetry={() => void engine.refetch()} />}
          {drawing && drawing.loops.length > 0 && (
            <DriveDrawing drawing={drawing} found={{ words: off, off: together?.cams ?? [], loops: together?.points_to ?? [] }} />
          )}
          {drawing && !drawing.loops.length && (
            <Text fontSize="13.5px" color="mute">
              The profile does not describe the timing drive.
            </Text>
          )}
        </Box>
        <Box flex="1 1 320px">
          <Text fontSize="13.5px" data-testid="elongation">
            {elongation?.words ?? "Elongation needs two cams and the free links of the profile."}
            {elongation && <WhyMark id="elongation" about="Elongation of the timing drive" />}
          </Text>
          {(result.slack ?? []).map((one) => (
            <Text key={`${one.cams.join()} ${one.segment}`} fontSize="13.5px" mt="2" data-testid="slack">
              {(result.slack ?? []).length > 1 && <b>{`${one.cams.map((cam) => nameOf(lanes, cam)).join(" and ")}: `}</b>}
              {one.words}
            </Text>
          ))}
        </Box>
      </Flex>
      {chain.length > 0 && (
        <QuietTable label="Chain arithmetic" heads={["Cam", "Pitches", "On chain", "To and fro", ...SCHOOLS.map((school) => limitWords(chain, school.id, school.name))]}>
          {chain.map((one) => (
            <Table.Row key={`${one.cam} ${one.segment}`} bg="transparent" data-testid="chain-row">
              <Table.Cell whiteSpace="nowrap">
                <b>{nameOf(lanes, one.cam)}</b>
                {new Set(chain.map((c) => c.segment)).size > 1 && `, ${one.segment}`}
              </Table.Cell>
              <Table.Cell minW="120px">{one.words || "–"}</Table.Cell>
              <Table.Cell whiteSpace="nowrap">
                {one.chain_mm == null ? "–" : `${Math.abs(one.chain_mm).toFixed(1)} mm ${signWord(one.chain_mm)}`.trim()}
              </Table.Cell>
              <Table.Cell whiteSpace="nowrap">{one.slack_mm == null ? "–" : `${one.slack_mm.toFixed(2)} mm`}</Table.Cell>
              {SCHOOLS.map((school) => (
                <Table.Cell key={school.id} whiteSpace="nowrap">
                  <Margin margin={one.margins?.find((margin) => margin.school === school.id)} />
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </QuietTable>
      )}
    </Box>
  );
}

const SCHOOLS = [
  { id: "mark", name: "Left at the mark" },
  { id: "maker", name: "To the limit" },
  { id: "pitch", name: "To one pitch" },
] as const;

/** The limit's own size beside its name, where all cams share it. */
function limitWords(chain: Schemas["ChainResult"][], school: string, name: string): string {
  const sizes = new Set(chain.flatMap((one) => (one.margins ?? []).filter((margin) => margin.school === school).map((margin) => Number(margin.limit_deg.toFixed(1)))));
  return sizes.size === 1 ? `${name}, ${String([...sizes][0])}°` : name;
}

function Margin({ margin }: { margin: Schemas["MarginResult"] | undefined }) {
  if (!margin) return <>–</>;
  const over = margin.margin_deg < 0;
  return (
    <>
      <Box as="span" fontWeight={over ? "680" : "500"}>
        {over ? "over by " : ""}
        {Math.abs(margin.margin_deg).toFixed(1)}° {plusMinus(margin.margin_u95_deg)}°
      </Box>
      {margin.margin_mm != null && (
        <Box color="mute" fontSize="13px">
          {Math.abs(margin.margin_mm).toFixed(1)} mm of chain
        </Box>
      )}
    </>
  );
}
