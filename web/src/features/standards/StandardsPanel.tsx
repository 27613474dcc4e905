/** Every standard side by side, which one the headline uses, and where they disagree; figures are typed here. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { useTold } from "../../api/told";
import { ErrorNote, offsetWords, PanelTitle, plusMinus, QuietButton, QuietTable } from "../../ui";
import { FigureForm } from "./FigureForm";

type Props = { jobId: number; result: Schemas["CaptureResult"]; lanes: Schemas["CamLane"][] };

export function StandardsPanel({ jobId, result, lanes }: Props) {
  const { told, keep } = useTold(jobId);
  const [typing, setTyping] = useState(false);
  const rows = [...(result.standards ?? [])].sort((a, b) => order(lanes, a.cam) - order(lanes, b.cam) || Number(b.used) - Number(a.used));
  const segments = new Set(rows.map((row) => row.segment));
  const figures = told?.figures ?? [];
  return (
    <Box data-testid="standards">
      <PanelTitle note="half width with all that is not known about the standard">Compared with everything at hand</PanelTitle>
      {!rows.length && (
        <Text fontSize="13.5px" color="mute">
          Nothing says yet where these cams should be. Type a figure, keep a sound engine as known good, or give the profile its edges.
        </Text>
      )}
      {rows.length > 0 && (
        <QuietTable label="Standards" heads={["Cam", "Against", "Reads", "Holds if"]}>
          {rows.map((row, i) => (
            <Table.Row key={i} bg="transparent" data-testid="standard-row" data-kind={row.kind}>
              <Table.Cell whiteSpace="nowrap">
                {same(rows[i - 1], row) ? (
                  <Box as="span" srOnly>
                    {nameOf(lanes, row.cam)}
                  </Box>
                ) : (
                  <b>
                    {nameOf(lanes, row.cam)}
                    {segments.size > 1 && `, ${row.segment}`}
                  </b>
                )}
              </Table.Cell>
              <Table.Cell minW="180px">
                {row.used ? <b>{row.name}</b> : row.name}
                {row.used && (
                  <Box as="span" color="petrol" fontWeight="650" fontSize="13px">
                    {" "}
                    ● headline
                  </Box>
                )}
              </Table.Cell>
              <Table.Cell whiteSpace="nowrap">
                <Box as="span" fontWeight={says(row) || row.used ? "680" : "500"} css={{ color: says(row) ? "late" : "ink" }}>
                  {offsetWords(row.offset_deg, row.total_u95_deg)} {plusMinus(row.total_u95_deg)}°
                </Box>
                {says(row) && <Box fontSize="13px">◆ says something else</Box>}
              </Table.Cell>
              <Table.Cell color="mute" minW="220px">
                {row.assumes}
              </Table.Cell>
            </Table.Row>
          ))}
        </QuietTable>
      )}
      <Box as="ul" listStyleType="none" mt="2" maxW="760px">
        {(result.standards_said ?? []).map((text) => (
          <Box as="li" key={text} fontSize="13.5px" mb="1" borderLeftWidth="3px" borderColor="line" pl="2.5">
            {text}
          </Box>
        ))}
      </Box>
      {figures.length > 0 && (
        <Flex gap="2" wrap="wrap" mt="2" align="center" fontSize="13px">
          <Text color="mute">Figures of this job:</Text>
          {figures.map((figure, i) => (
            <QuietButton
              key={i}
              aria-label={`Take out the figure ${String(i + 1)}`}
              onClick={() => keep.mutate((now) => ({ ...now, figures: (now.figures ?? []).filter((_, k) => k !== i) }))}
            >
              {`${figure.cam} ${figureWords(figure)} ×`}
            </QuietButton>
          ))}
        </Flex>
      )}
      {keep.error && <ErrorNote error={keep.error} onClose={keep.reset} />}
      <Box mt="2">
        {typing ? (
          <FigureForm
            lanes={lanes}
            pending={keep.isPending}
            onKeep={(figure) => keep.mutate((now) => ({ ...now, figures: [...(now.figures ?? []), figure] }), { onSuccess: () => setTyping(false) })}
            onClose={() => setTyping(false)}
          />
        ) : (
          <QuietButton onClick={() => setTyping(true)} disabled={!lanes.length}>
            Type a figure
          </QuietButton>
        )}
      </Box>
    </Box>
  );
}

/** A cam that is compared with one that is off itself only seems to be off: that is said below, not at every row. */
function says(row: Schemas["StandardResult"]): boolean {
  return row.disagrees && row.kind !== "other_bank" && row.kind !== "other_shaft";
}

function same(before: Schemas["StandardResult"] | undefined, row: Schemas["StandardResult"]): boolean {
  return before !== undefined && before.cam === row.cam && before.segment === row.segment;
}

function order(lanes: Schemas["CamLane"][], cam: string): number {
  return lanes.findIndex((lane) => lane.cam === cam);
}

export function nameOf(lanes: Schemas["CamLane"][], cam: string): string {
  return lanes.find((lane) => lane.cam === cam)?.name ?? cam;
}

const FORM_WORDS: Record<Schemas["Figure"]["form"], string> = {
  teeth: "wheel teeth",
  degrees: "° after tooth 1",
  tdc_degrees: "° after TDC 1",
  between: "between pulses",
  picture: "off a picture",
};

function figureWords(figure: Schemas["Figure"]): string {
  return `${String(figure.value)} ${FORM_WORDS[figure.form]}`;
}
