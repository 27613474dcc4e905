/** The hook-up on one page, to print or to take along on a phone; black on white in every mode. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";

import type { Schemas } from "../../api/client";
import { hookUpQuery, jobQuery } from "../../api/queries";
import { ErrorNote, QuietButton, useKeys, Waiting } from "../../ui";
import { placeWords, rangeWords, recordingWords, wireWords } from "./words";

export function HookUpPrintPage() {
  const { jobId: text } = useParams();
  const jobId = Number(text);
  const navigate = useNavigate();
  const page = useQuery(hookUpQuery(jobId));
  const job = useQuery(jobQuery(jobId));
  const back = () => void navigate(`/jobs/${String(jobId)}/hook-up`);
  useKeys({ Escape: back, p: () => window.print() });
  if (page.isError) return <ErrorNote error={page.error} />;
  if (!page.data || !job.data) return <Waiting>Writing the page</Waiting>;
  return (
    <Box h="full" overflowY="auto" bg="white" color="black" p="5" css={{ "@media print": { padding: 0 } }} data-testid="hook-up-page">
      <Flex gap="2" mb="3" css={{ "@media print": { display: "none" } }}>
        <QuietButton color="black" borderColor="gray.500" hint="Esc" onClick={back}>
          Back
        </QuietButton>
        <QuietButton color="black" borderColor="gray.500" hint="P" onClick={() => window.print()}>
          Print
        </QuietButton>
      </Flex>
      <Box maxW="760px">
        <Text fontSize="13px">
          {job.data.vehicle}, {job.data.engine.name}
        </Text>
        <Text as="h1" fontSize="24px" fontWeight="720" lineHeight="1.2">
          {page.data.question.title}
        </Text>
        <Text fontSize="14px" mb="2">
          {recordingWords(page.data)} {page.data.recording.trigger}
        </Text>
        {page.data.rounds.map((round, i) => (
          <Round key={i} round={round} name={page.data.rounds.length > 1 ? `Round ${String(i + 1)}` : ""} />
        ))}
        <Text fontWeight="700" mt="3">
          The engine
        </Text>
        {page.data.states.map((state) => (
          <Text key={state} fontSize="14px">
            – {state}
          </Text>
        ))}
        <Text fontWeight="700" mt="3">
          Before the start
        </Text>
        {page.data.cautions.map((caution) => (
          <Text key={caution.id} fontSize="14px">
            {caution.ticked ? "☑" : "☐"} {caution.text}
          </Text>
        ))}
        <Text fontSize="13px" mt="3">
          Local rules, the maker&apos;s procedure and licensed practice come first.
        </Text>
      </Box>
    </Box>
  );
}

function Round({ round, name }: { round: Schemas["LeadOut"][]; name: string }) {
  return (
    <Box mt="2" css={{ breakInside: "avoid" }}>
      {name && <Text fontWeight="700">{name}</Text>}
      {round.map((lead, i) => (
        <Flex key={lead.key} gap="3" borderBottomWidth="1px" borderColor="gray.400" py="1.5">
          <Text fontWeight="720" fontSize="20px" w="24px">
            {i + 1}
          </Text>
          <Box fontSize="14px">
            <Text fontWeight="700">{[lead.name, placeWords(lead), wireWords(lead)].filter(Boolean).join(", ")}</Text>
            <Text>{lead.clip}</Text>
            <Text>
              <b>{lead.probe}</b>, {rangeWords(lead)}
            </Text>
            {lead.note && <Text fontSize="13px">{lead.note}</Text>}
          </Box>
        </Flex>
      ))}
    </Box>
  );
}
