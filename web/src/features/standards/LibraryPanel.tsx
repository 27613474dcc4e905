/** The library of known good engines of this kind: which are compared with, and why others are not. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { apiPath } from "../../api/base";
import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { libraryQuery } from "../../api/queries";
import { useTold } from "../../api/told";
import { ErrorNote, FileButton, offsetWords, PanelTitle, QuietButton, QuietTable, Waiting } from "../../ui";
import { howWords } from "./how-good";
import { KnownGoodChoice } from "./KnownGoodChoice";
import { ProposalPanel } from "./ProposalPanel";

type Props = { jobId: number; capture: Schemas["ImportedCapture"] };
type Row = Schemas["GoodRow"];

export function LibraryPanel({ jobId, capture }: Props) {
  const library = useQuery(libraryQuery(jobId));
  const { keep } = useTold(jobId);
  const changes = useChanges();
  const bring = useMutation({
    mutationFn: (file: File) => {
      const body = new FormData();
      body.append("file", file);
      return taken(client.POST("/api/libraries", { body: body as never, bodySerializer: (form: unknown) => form as FormData }));
    },
    onSuccess: changes.knownGoodChanged,
  });
  const choose = (row: Row, state: "compared" | "left_out" | "allowed") =>
    keep.mutate((now) => {
      const without = (files: string[] | undefined) => (files ?? []).filter((file) => file !== row.file);
      const left = without(now.compare?.left_out);
      const allowed = without(now.compare?.allowed);
      if (state === "left_out") left.push(row.file);
      if (state === "allowed") allowed.push(row.file);
      return { ...now, compare: { left_out: left, allowed } };
    });
  return (
    <Box data-testid="library">
      <PanelTitle note={library.data?.engine}>Known good engines</PanelTitle>
      <Flex gap="3" wrap="wrap" align="flex-end" mb="2">
        <KnownGoodChoice capture={capture} />
        {library.data && library.data.rows.length > 0 && (
          <QuietButton asChild>
            <a href={apiPath(`/api/engines/${String(library.data.engine_id)}/library`)} download>
              Export the library, without owners
            </a>
          </QuietButton>
        )}
        <FileButton name="Library of known goods" accept=".zip" loading={bring.isPending} testId="library-file" onFile={(file) => bring.mutate(file)}>
          Take in a library
        </FileButton>
      </Flex>
      {capture.known_good && (
        <Text fontSize="13px" color="mute" mb="1">
          This capture is kept for other jobs; a job is not compared with itself.
        </Text>
      )}
      {bring.isPending && <Waiting>Taking the library in</Waiting>}
      {bring.isError && <ErrorNote error={bring.error} onClose={bring.reset} />}
      {keep.error && <ErrorNote error={keep.error} onClose={keep.reset} />}
      {library.isPending && <Waiting>Looking through the library</Waiting>}
      {library.isError && <ErrorNote error={library.error} onRetry={() => void library.refetch()} />}
      {library.data?.rows.length === 0 && (
        <Text fontSize="13.5px" maxW="720px">
          No other job with this engine has a known good capture yet. Record sound engines when they come in for a service: cranking, phasers unplugged, hot or cold noted. Several make a range.
        </Text>
      )}
      {library.data && library.data.rows.length > 0 && (
        <QuietTable label="Known good captures" heads={["Capture", "Known good by", "State", "Against the profile", "Compared with"]}>
          {library.data.rows.map((row) => (
            <Table.Row key={row.capture_id} bg="transparent" data-testid="library-row">
              <Table.Cell minW="118px">
                <Link to={`/jobs/${String(row.job_id)}/phase`}>{row.vehicle}</Link>
                <Box color="mute" fontSize="13px">
                  {row.name}
                  <br />
                  {row.recorded}
                </Box>
              </Table.Cell>
              <Table.Cell minW="104px">
                {howWords(row.how)}
                {row.note && (
                  <Box color="mute" fontSize="13px">
                    {row.note}
                  </Box>
                )}
              </Table.Cell>
              <Table.Cell minW="104px">{[...row.segments, row.temperature, `phasers ${row.phasers}`].filter((word) => !word.endsWith("unknown")).join(", ")}</Table.Cell>
              <Table.Cell minW="100px">
                {row.cams.map((cam) => (
                  <Box key={`${cam.cam} ${cam.segment}`} whiteSpace="nowrap" fontSize="13px">
                    {cam.cam} {offsetWords(cam.offset_deg)}
                    {row.segments.length > 1 && `, ${cam.segment}`}
                  </Box>
                ))}
              </Table.Cell>
              <Table.Cell minW="150px">
                <Compared row={row} onChoose={(state) => choose(row, state)} pending={keep.isPending} />
              </Table.Cell>
            </Table.Row>
          ))}
        </QuietTable>
      )}
      {library.data && <ProposalPanel engineId={library.data.engine_id} />}
    </Box>
  );
}

type ComparedProps = { row: Row; onChoose: (state: "compared" | "left_out" | "allowed") => void; pending: boolean };

function Compared({ row, onChoose, pending }: ComparedProps) {
  const name = `${row.vehicle}, ${row.name}`;
  if (row.left_out)
    return (
      <>
        ○ left out by hand{" "}
        <QuietButton disabled={pending} onClick={() => onChoose("compared")} aria-label={`Compare with ${name} again`}>
          Compare again
        </QuietButton>
      </>
    );
  if (row.compared)
    return (
      <>
        ● {row.allowed && row.differs.length ? `yes, although ${row.differs.join(" and ")}: the range is wider` : "yes"}{" "}
        <QuietButton disabled={pending} onClick={() => onChoose(row.allowed && row.differs.length ? "compared" : "left_out")} aria-label={`Leave ${name} out`}>
          Leave out
        </QuietButton>
      </>
    );
  const driven = row.differs.some((word) => word.startsWith("phasers"));
  return (
    <>
      ◆ refused: {row.differs.join(" and ")}{" "}
      {!driven && (
        <QuietButton disabled={pending} onClick={() => onChoose("allowed")} aria-label={`Compare with ${name} all the same`}>
          Compare all the same
        </QuietButton>
      )}
    </>
  );
}
