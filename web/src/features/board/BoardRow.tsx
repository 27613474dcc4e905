import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { GATE_WORDS, percent } from "../../ui";

type Row = Schemas["BoardRow"];

export function BoardRow({ row }: { row: Row }) {
  const { job } = row;
  return (
    <Box as="li" borderBottomWidth="1px" borderColor="line">
      <Link to={`/jobs/${job.id}/${STATION[row.status]}`} data-testid="job">
        <Grid
          templateColumns={{ base: "minmax(0, 1fr)", md: "minmax(0, 1fr) minmax(0, 1.3fr)", lg: "minmax(200px, 1fr) minmax(190px, 0.9fr) minmax(280px, 1.5fr) 230px" }}
          columnGap="6"
          rowGap="1"
          px="3"
          py="4"
          alignItems="center"
          _hover={{ bg: "soft" }}
        >
          <Box>
            <Text fontSize="18px" fontWeight="680" lineHeight="1.25" overflowWrap="anywhere" lineClamp={2}>
              {job.vehicle}
            </Text>
            <Text color="mute" fontSize="13px">
              {[job.make_model, job.engine].filter(Boolean).join(", ")}
            </Text>
          </Box>
          <Box>
            <Text overflowWrap="anywhere" lineClamp={2}>
              {job.complaint || "No complaint noted"}
            </Text>
            {job.codes.length > 0 && (
              <Text color="mute" fontSize="13px">
                {job.codes.join(" ")}
              </Text>
            )}
            <Text color="mute" fontSize="13px" data-testid="row-status">
              {statusWords(row)}
            </Text>
          </Box>
          <Box>
            <Measured row={row} />
          </Box>
          <Called row={row} />
        </Grid>
      </Link>
    </Box>
  );
}

/** The station where its work goes on. */
const STATION: Record<Row["status"], string> = { no_capture: "captures", to_call: "phase", to_prove: "hand-over", closed: "hand-over" };

const STATUS: Record<Row["status"], string> = {
  no_capture: "opened",
  to_call: "opened",
  to_prove: "repaired, to be proved; opened",
  closed: "closed",
};

/** Where it stands, since when, who has it, and what it waits for. */
function statusWords({ job, status }: Row): string {
  const when = day(status === "closed" ? job.closed_at : job.created_at);
  const cause = status === "closed" && job.cause ? `cause ${job.cause}` : "";
  const waits = job.waiting_for ? `waits for ${job.waiting_for}` : "";
  return [`${STATUS[status]} ${when}`, cause, job.holder && `with ${job.holder}`, waits].filter(Boolean).join(", ");
}

function day(moment: string | null | undefined): string {
  return moment ? new Date(moment).toLocaleDateString([], { day: "numeric", month: "short", year: "numeric" }) : "";
}

function Measured({ row }: { row: Row }) {
  if (!row.captures) return <Text color="mute">No capture yet</Text>;
  if (!row.finding) return <Text color="mute">Not measured yet: open the job</Text>;
  const [before, after] = row.emphasis ? row.finding.split(row.emphasis) : [row.finding, ""];
  return (
    <>
      <Text fontSize="16px" fontWeight="600" lineHeight="1.3">
        {before}
        {row.emphasis && (
          <Box as="span" color="late" fontWeight="700">
            {row.emphasis}
          </Box>
        )}
        {after}
      </Text>
      <Text color="mute" fontSize="13px">
        {row.captures === 1 ? "1 capture" : `${row.captures} captures`}
      </Text>
    </>
  );
}

function Called({ row }: { row: Row }) {
  if (!row.leader || row.leader_probability == null) return <Text color="mute">No call yet</Text>;
  return (
    <Box>
      <Flex justify="space-between" gap="2">
        <Text fontWeight="600">{row.undecided ? "Undecided" : row.leader}</Text>
        {!row.undecided && (
          <Text flex="none" whiteSpace="nowrap">
            {percent(row.leader_probability)}
          </Text>
        )}
      </Flex>
      <Box h="6px" bg="soft" rounded="full" my="1" aria-hidden="true">
        <Box h="full" w={`${100 * row.leader_probability}%`} bg="petrol" rounded="full" />
      </Box>
      {row.teardown && (
        <Flex columnGap="3" rowGap="0.5" fontSize="14px" wrap="wrap" align="baseline">
          <Text color={row.teardown === "go" ? "late" : "mute"} fontWeight={row.teardown === "go" ? "720" : "400"} fontSize={row.teardown === "go" ? "18px" : "14px"}>
            {GATE_WORDS[row.teardown]}
          </Text>
          {row.stop_cranking && (
            <Text color="late" fontWeight="720" fontSize="18px" borderLeftWidth="4px" borderColor="late" pl="1.5" lineHeight="1.2" data-testid="row-stop">
              Stop cranking
            </Text>
          )}
        </Flex>
      )}
    </Box>
  );
}
