/** After a new version: what it would say of jobs that an older one called. Nothing is replaced until somebody says so. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { rejudgingQuery } from "../../api/fleet-queries";
import { sessionQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { ActionButton, EmptyNote, ErrorNote, GATE_WORDS, PanelTitle, percent, QuietButton, QuietTable, Waiting } from "../../ui";

type Rejudged = Schemas["Rejudged"];
type Revised = Schemas["Revised"];

const WEIGHTS: readonly { weight: Revised["weight"]; title: string }[] = [
  { weight: "gate", title: "The gate would change" },
  { weight: "call", title: "The call would change" },
  { weight: "figures", title: "Single figures would change" },
  { weight: "nothing", title: "Nothing would change" },
];

export function UpdatesPage() {
  const rejudged = useQuery(rejudgingQuery);
  usePutHeader(null, "updates", "After an update");
  if (rejudged.isPending) return <Box p="6"><Waiting>Looking which jobs an older version called</Waiting></Box>;
  if (rejudged.isError) return <Box p="6"><ErrorNote error={rejudged.error} onRetry={() => void rejudged.refetch()} /></Box>;
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Found found={rejudged.data} />
    </Box>
  );
}

function Found({ found }: { found: Rejudged }) {
  const changes = useChanges();
  const session = useQuery(sessionQuery);
  const may = session.data?.role !== "reader";
  const start = useMutation({ mutationFn: () => taken(client.POST("/api/rejudging")), onSuccess: () => changes.rejudged() });
  const take = useMutation({
    mutationFn: (jobs: number[]) => taken(client.POST("/api/rejudging/taken-over", { body: { jobs } })),
    onSuccess: () => changes.takenOver(),
  });
  const every = found.unread.length + found.revised.length;
  const troubled = Object.entries(found.trouble);
  return (
    <>
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {every === 0 ? `Every job was called by version ${found.software}` : `${jobWords(every)} called by an older version`}
      </Text>
      <Text color="mute" mb="4" maxW="760px">
        {every === 0
          ? "After the next update, what it would say otherwise is shown here first."
          : `Each call stands as it was made. Read anew, you see what version ${found.software} would say; it stands once you take it over, and the older result stays stored.`}
      </Text>
      {[start.error, take.error].map((error, i) => error && <ErrorNote key={i} error={error} onClose={() => [start, take].forEach((one) => one.reset())} />)}
      {every === 0 && <EmptyNote title="Nothing to look at">No older call stands anywhere.</EmptyNote>}
      {found.unread.length > 0 && (
        <Flex gap="3" align="center" mb="4" wrap="wrap" data-testid="unread">
          {found.running ? (
            <Waiting>{`Reading anew: ${String(found.revised.length)} of ${String(every)} done`}</Waiting>
          ) : (
            may && (
              <ActionButton onClick={() => start.mutate()} loading={start.isPending}>
                Read {found.unread.length === 1 ? "it" : `all ${String(found.unread.length)}`} anew
              </ActionButton>
            )
          )}
        </Flex>
      )}
      {troubled.map(([job, why]) => (
        <Text key={job} fontSize="13.5px" mb="1">
          Job {job} cannot be read: {why} Its call stands as it was.
        </Text>
      ))}
      {WEIGHTS.map(({ weight, title }) => (
        <Heap
          key={weight}
          title={title}
          rows={found.revised.filter((one) => one.weight === weight)}
          onTake={may ? (jobs) => take.mutate(jobs) : null}
          taking={take.isPending}
        />
      ))}
    </>
  );
}

type HeapProps = { title: string; rows: Revised[]; onTake: ((jobs: number[]) => void) | null; taking: boolean };

function Heap({ title, rows, onTake, taking }: HeapProps) {
  if (!rows.length) return null;
  return (
    <Box as="section" aria-label={title} mb="5" maxW="1100px">
      <PanelTitle note={jobWords(rows.length)}>{title}</PanelTitle>
      <QuietTable label={title} heads={["Vehicle", "Stands", "Would say", "What is different", ""]}>
        {rows.map((row) => (
          <Table.Row key={row.job_id} data-testid={`revised-${String(row.job_id)}`}>
            <Table.Cell verticalAlign="top">
              <Box asChild color="petrol" fontWeight="600">
                <Link to={`/jobs/${String(row.job_id)}/call`}>{row.vehicle}</Link>
              </Box>
              <Text color="mute" fontSize="13px">
                {row.closed ? "closed, " : ""}called by {row.software.replace("phasko ", "version ")}
              </Text>
            </Table.Cell>
            <Table.Cell verticalAlign="top">
              <Head head={row.before} />
            </Table.Cell>
            <Table.Cell verticalAlign="top">
              <Head head={row.after} />
            </Table.Cell>
            <Table.Cell verticalAlign="top" maxW="420px" whiteSpace="normal">
              {row.sentences.map((sentence) => (
                <Text key={sentence}>{sentence}</Text>
              ))}
            </Table.Cell>
            <Table.Cell verticalAlign="top">
              {onTake && (
                <QuietButton onClick={() => onTake([row.job_id])} disabled={taking} aria-label={`Take over: ${row.vehicle}`}>
                  Take over
                </QuietButton>
              )}
            </Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
      {onTake && rows.length > 1 && (
        <QuietButton mt="2" onClick={() => onTake(rows.map((row) => row.job_id))} disabled={taking}>
          Take all {rows.length} over
        </QuietButton>
      )}
    </Box>
  );
}

function Head({ head }: { head: Revised["before"] }) {
  return (
    <>
      <Text fontWeight={head.teardown === "go" ? "720" : "600"} color={head.teardown === "go" ? "late" : "ink"}>
        {head.teardown ? GATE_WORDS[head.teardown] : ""}
      </Text>
      <Text>
        {head.undecided ? "Undecided" : head.leader}
        {typeof head.leader_probability === "number" && !head.undecided && `, ${percent(head.leader_probability)}`}
      </Text>
      {head.stop_cranking && <Text color="late">Stop cranking</Text>}
    </>
  );
}

function jobWords(count: number): string {
  return count === 1 ? "One job" : `${String(count)} jobs`;
}
