/** A vehicle over the years: every job of it, oldest first. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { timelineQuery } from "../../api/closing-queries";
import { usePutHeader } from "../../app/header";
import { ActionButton, ErrorNote, percent, Waiting } from "../../ui";
import { dayWords } from "./words";

type Entry = Schemas["TimelineEntry"];

export function TimelinePage() {
  const { jobId: text } = useParams();
  const jobId = Number(text);
  const found = useQuery(timelineQuery(jobId));
  const changes = useChanges();
  const navigate = useNavigate();
  usePutHeader(null, "timeline", "One vehicle");
  const again = useMutation({
    mutationFn: () => taken(client.POST("/api/jobs/{job_id}/copies", { params: { path: { job_id: jobId } }, body: { vehicle: null } })),
    onSuccess: async (job) => {
      await changes.jobOpened();
      await navigate(`/jobs/${String(job.id)}/complaint`);
    },
  });
  if (found.isPending) return <Box p="6"><Waiting>Looking back</Waiting></Box>;
  if (found.isError) return <Box p="6"><ErrorNote error={found.error} onRetry={() => void found.refetch()} /></Box>;
  const { vehicle, entries } = found.data;
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Flex align="end" justify="space-between" gap="4" mb="4" wrap="wrap">
        <Box>
          <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" overflowWrap="anywhere">
            {vehicle}
          </Text>
          <Text color="mute">{entries.length === 1 ? "One job" : `${String(entries.length)} jobs, oldest first`}</Text>
        </Box>
        <ActionButton onClick={() => again.mutate()} loading={again.isPending}>
          New job with this engine
        </ActionButton>
      </Flex>
      {again.isError && <ErrorNote error={again.error} onClose={() => again.reset()} />}
      <Box as="ol" listStyleType="none" maxW="900px">
        {entries.map((entry) => (
          <TimelineRow key={entry.row.job.id} entry={entry} />
        ))}
      </Box>
    </Box>
  );
}

function TimelineRow({ entry }: { entry: Entry }) {
  const { row } = entry;
  const { job } = row;
  const called = row.called_before ?? row.leader;
  const chance = row.called_before ? "" : row.leader_probability == null ? "" : `, ${percent(row.leader_probability)}`;
  return (
    <Flex as="li" gap="5" borderLeftWidth="2px" borderColor="line" pl="4" pb="5" data-testid="timeline-job">
      <Box w="120px" flex="none">
        <Text fontWeight="650">{dayWords(job.created_at)}</Text>
        {entry.distance_km !== null && (
          <Text color="mute" fontSize="13px">
            {entry.distance_km.toLocaleString("en-GB").replaceAll(",", " ")} km
          </Text>
        )}
      </Box>
      <Box minW="0">
        <Box asChild color="petrol" fontWeight="650">
          <Link to={`/jobs/${String(job.id)}/hand-over`}>{job.complaint || "No complaint noted"}</Link>
        </Box>
        <Text fontSize="13.5px">{[job.codes.join(" "), row.finding].filter(Boolean).join(" · ")}</Text>
        {called && (
          <Text fontSize="13.5px">
            Called: {called}
            {chance}
          </Text>
        )}
        {entry.found.length > 0 && <Text fontSize="13.5px">Found: {entry.found.join("; ")}</Text>}
        {entry.replaced.length > 0 && <Text fontSize="13.5px">Replaced: {entry.replaced.join(", ")}</Text>}
        <Text color="mute" fontSize="13px">
          {job.closed_at ? `closed ${dayWords(job.closed_at)}, cause ${job.cause ?? "unknown"}` : "open"}
        </Text>
      </Box>
    </Flex>
  );
}
