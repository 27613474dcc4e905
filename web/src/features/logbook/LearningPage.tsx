/** What closed jobs teach: stated chances against what was found. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { learningQuery } from "../../api/closing-queries";
import { sessionQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { EmptyNote, ErrorNote, PanelTitle, QuietButton, QuietTable, Waiting } from "../../ui";
import { dayWords, inHundred } from "./words";

type Learning = Schemas["Learning"];
type Calibration = Schemas["Calibration"];

export function LearningPage() {
  const learning = useQuery(learningQuery);
  usePutHeader(null, "learning", "What closed jobs teach");
  if (learning.isPending) return <Box p="6"><Waiting>Counting closed jobs</Waiting></Box>;
  if (learning.isError) return <Box p="6"><ErrorNote error={learning.error} onRetry={() => void learning.refetch()} /></Box>;
  const found = learning.data;
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15">
        {sentence(found.own)}
      </Text>
      <Text color="mute" mb="3">
        Of jobs that were closed with a known cause. Sample jobs are counted apart and teach nothing.
      </Text>
      {found.own.closed === 0 ? (
        <EmptyNote title="No job of your own is closed yet">
          Close jobs at their Hand-over, and note what was found on opening: then stated chances can be held against what was found.
        </EmptyNote>
      ) : (
        <CalibrationTable found={found.own} title="How honest the chances were" />
      )}
      <Odds found={found} />
      {found.samples.closed > 0 && <CalibrationTable found={found.samples} title="Sample jobs" />}
      <ClosedTable rows={found.rows} />
    </Box>
  );
}

function sentence(own: Calibration): string {
  if (own.judged === 0) return "Nothing to learn from yet";
  return `${String(own.right)} of ${String(own.judged)} calls were right; ${own.expected.toFixed(1)} ± ${own.expected_u95.toFixed(1)} were stated`;
}

function CalibrationTable({ found, title }: { found: Calibration; title: string }) {
  return (
    <Box as="section" aria-label={title} mb="4" maxW="900px" data-testid="calibration">
      <PanelTitle note={honestWords(found)}>{title}</PanelTitle>
      <QuietTable label={title} heads={["Stated", "Calls", "Right", "Stated on the average", "Found right", "95 times in 100 between", ""]}>
        {found.bins.map((bin) => (
          <Table.Row key={bin.from_chance}>
            <Table.Cell>
              {inHundred(bin.from_chance)} to {inHundred(bin.to_chance)}
            </Table.Cell>
            <Table.Cell>{bin.jobs}</Table.Cell>
            <Table.Cell>{bin.right}</Table.Cell>
            <Table.Cell>{inHundred(bin.stated)}</Table.Cell>
            <Table.Cell fontWeight="600">{inHundred(bin.right / bin.jobs)}</Table.Cell>
            <Table.Cell>
              {inHundred(bin.low)} and {inHundred(bin.high)}
            </Table.Cell>
            <Table.Cell>
              <Reach low={bin.low} high={bin.high} right={bin.right / bin.jobs} stated={bin.stated} />
            </Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
      <Flex gap="6" wrap="wrap" fontSize="13.5px" mt="2">
        <Text>
          Wrong teardowns: <b>{found.needless.length}</b> <JobLinks ids={found.needless} />
        </Text>
        <Text>
          Faults waved away: <b>{found.missed.length}</b> <JobLinks ids={found.missed} />
        </Text>
        <Text>
          Cause not known: <b>{found.unknown}</b>
        </Text>
        {found.minutes !== null && (
          <Text>
            Tests to the call: <b>{found.minutes.toFixed(0)} minutes</b> on the average
          </Text>
        )}
        {found.hours !== null && (
          <Text>
            Repair: <b>{found.hours.toFixed(1)} hours</b> on the average
          </Text>
        )}
        {found.score !== null && (
          <Text title="Mean quadratic score over all explanations: 0 is best, 2 worst">
            Score: <b>{found.score.toFixed(2)}</b>
            {found.score_u95 !== null && ` ± ${found.score_u95.toFixed(2)}`}
          </Text>
        )}
      </Flex>
    </Box>
  );
}

function honestWords(found: Calibration): string {
  if (found.honest === null) return "no cause is known yet";
  if (found.honest) return "as many were right as the chances stated let one expect";
  return found.right < found.expected ? "fewer were right than stated: the chances were too bold" : "more were right than stated: the chances were too timid";
}

/** The span in which the true share lies, what was found as a dot, what was stated as a line across. */
function Reach({ low, high, right, stated }: { low: number; high: number; right: number; stated: number }) {
  const x = (share: number) => 4 + 132 * share;
  return (
    <svg width="140" height="18" aria-hidden="true">
      <line x1={x(0)} x2={x(1)} y1="9" y2="9" stroke="var(--chakra-colors-line)" />
      <line x1={x(low)} x2={x(high)} y1="9" y2="9" stroke="var(--chakra-colors-petrol)" strokeWidth="3" />
      <circle cx={x(right)} cy="9" r="4.5" fill="var(--chakra-colors-petrol)" />
      <line x1={x(stated)} x2={x(stated)} y1="1" y2="17" stroke="var(--chakra-colors-ink)" strokeWidth="2" />
    </svg>
  );
}

function JobLinks({ ids }: { ids: number[] }) {
  return (
    <>
      {ids.map((id) => (
        <Box asChild key={id} color="petrol" mr="1">
          <Link to={`/jobs/${String(id)}/hand-over`}>job {id}</Link>
        </Box>
      ))}
    </>
  );
}

function Odds({ found }: { found: Learning }) {
  const session = useQuery(sessionQuery);
  const changes = useChanges();
  const move = useMutation({
    mutationFn: (moved: boolean) => taken(client.PUT("/api/learning/odds", { body: { moved } })),
    onSuccess: () => changes.oddsMoved(),
  });
  const active = Object.keys(found.odds.factors ?? {}).length > 0;
  const lead = session.data?.role === "lead";
  return (
    <Box as="section" aria-label="The workshop's own odds" mb="4" maxW="900px" data-testid="own-odds">
      <PanelTitle note="they move the chances before measuring a little, never the gate; nothing is moved unless a lead asks">The workshop's own odds</PanelTitle>
      {active ? (
        <Text fontSize="13.5px">
          Moved {dayWords(found.odds.at)} by {found.odds.by}, from {found.odds.jobs} closed jobs.
        </Text>
      ) : found.proposed.length === 0 ? (
        <Text fontSize="13.5px">
          {found.known_jobs} of your own jobs are closed with a known cause; from {found.needed_jobs} on their findings can move the odds.
        </Text>
      ) : (
        <Text fontSize="13.5px">Your own findings would move these chances. They are as the table has them until you say so.</Text>
      )}
      {found.proposed.length > 0 && (
        <QuietTable label="Own odds" heads={["Fault", "Found", "Expected", "Would be likelier by", "95 times in 100 between"]}>
          {found.proposed.map((one) => (
            <Table.Row key={one.fault}>
              <Table.Cell>{found.names[one.fault] ?? one.fault}</Table.Cell>
              <Table.Cell>{one.found}</Table.Cell>
              <Table.Cell>{one.expected.toFixed(1)}</Table.Cell>
              <Table.Cell fontWeight="600">× {one.factor.toFixed(2)}</Table.Cell>
              <Table.Cell>
                {one.low.toFixed(2)} and {one.high.toFixed(2)}
              </Table.Cell>
            </Table.Row>
          ))}
        </QuietTable>
      )}
      {lead && (
        <Flex gap="2" mt="2">
          {found.proposed.length > 0 && (
            <QuietButton onClick={() => move.mutate(true)} loading={move.isPending}>
              Move the odds by our findings
            </QuietButton>
          )}
          {active && (
            <QuietButton onClick={() => move.mutate(false)} loading={move.isPending}>
              Back to the table's odds
            </QuietButton>
          )}
        </Flex>
      )}
      {move.isError && <ErrorNote error={move.error} onClose={() => move.reset()} />}
    </Box>
  );
}

function ClosedTable({ rows }: { rows: Learning["rows"] }) {
  if (!rows.length) return null;
  return (
    <Box as="section" aria-label="Closed calls" maxW="1040px">
      <PanelTitle>Closed calls</PanelTitle>
      <QuietTable label="Closed calls" heads={["Closed", "Vehicle", "Called", "Found", "", "Minutes"]}>
        {rows.map((row) => (
          <Table.Row key={row.job_id} data-testid="closed-call">
            <Table.Cell>{dayWords(row.closed_at)}</Table.Cell>
            <Table.Cell>
              <Box asChild color="petrol" fontWeight="600">
                <Link to={`/jobs/${String(row.job_id)}/hand-over`}>{row.vehicle}</Link>
              </Box>
              {row.sample && " (sample)"}
            </Table.Cell>
            <Table.Cell>
              {row.called}, {inHundred(row.chance)}
            </Table.Cell>
            <Table.Cell>{row.found}</Table.Cell>
            <Table.Cell fontWeight={row.right === false ? "680" : "400"}>
              {row.needless ? "wrong teardown" : row.missed ? "waved away" : row.right === true ? "right" : row.right === false ? "wrong" : "not known"}
            </Table.Cell>
            <Table.Cell>{row.minutes?.toFixed(0) ?? ""}</Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
    </Box>
  );
}
