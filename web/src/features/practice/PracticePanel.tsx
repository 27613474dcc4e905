/** Beside a practice car, in the place of the case: the clock, the bill, and what was done so far. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, ErrorNote, QuietButton, useKeys, Waiting } from "../../ui";
import { attemptQuery } from "./queries";
import { minutesWords, moneyWords, pointsWords } from "./words";

type Attempt = Schemas["AttemptView"];

export function PracticePanel({ jobId }: { jobId: number }) {
  const attempt = useQuery(attemptQuery(jobId));
  const [raised, setRaised] = useState(false);
  useKeys({ c: () => setRaised((on) => !on) });
  return (
    <Box
      as="aside"
      aria-label="Practice"
      bg="panel"
      borderColor="line"
      borderLeftWidth={{ base: "0", lg: "1px" }}
      borderTopWidth={{ base: "1px", lg: "0" }}
      gridColumn={{ base: "1", md: "2", lg: "auto" }}
      w={{ base: "auto", lg: "288px" }}
      maxH={{ base: raised ? "70dvh" : "66px", lg: "none" }}
      overflowY="auto"
      data-testid="practice-panel"
    >
      <Flex display={{ base: "flex", lg: "none" }} h="66px" px="3" align="center" justify="space-between" gap="3">
        <Text fontSize="22px" fontWeight="700">
          {attempt.data ? `${minutesWords(attempt.data.minutes)}, ${moneyWords(attempt.data.money, attempt.data.currency)}` : "Practice"}
        </Text>
        <QuietButton h="44px" aria-expanded={raised} onClick={() => setRaised(!raised)} hint="C">
          {raised ? "Fold" : "What was done"}
        </QuietButton>
      </Flex>
      <Box display={{ base: raised ? "block" : "none", lg: "block" }} px="4" py="3.5">
        {attempt.isPending && <Waiting>Reading the clock</Waiting>}
        {attempt.isError && <ErrorNote error={attempt.error} onRetry={() => void attempt.refetch()} />}
        {attempt.data && <Body jobId={jobId} attempt={attempt.data} />}
      </Box>
    </Box>
  );
}

function Body({ jobId, attempt }: { jobId: number; attempt: Attempt }) {
  const navigate = useNavigate();
  const changes = useChanges();
  const drive = useMutation({
    mutationFn: () => taken(client.POST("/api/practice/jobs/{job_id}/drive", { params: { path: { job_id: jobId } } })),
    onSuccess: () => changes.looksChanged(jobId),
  });
  const ended = attempt.ended_at !== null;
  const driven = attempt.steps.some((step) => step.kind === "drive");
  return (
    <Flex direction="column" gap="3">
      <Box>
        <Text as="h2" fontSize="16px" fontWeight="680">
          {attempt.kind === "blind" ? `Car ${String(attempt.number)} of ${attempt.class_name}` : "A car made by hand"}
        </Text>
        <Text color="mute" fontSize="13px">
          {attempt.person}
        </Text>
      </Box>
      <Flex columnGap="5" rowGap="1" wrap="wrap">
        <Figure name="Clock" value={minutesWords(attempt.minutes)} />
        <Figure name="Bill" value={moneyWords(attempt.money, attempt.currency)} />
      </Flex>
      {attempt.points !== null && <Figure name="Points of 100" value={pointsWords(attempt.points)} />}
      {!ended && (
        <>
          <Text fontSize="13px">
            Look at it, hook it up and record it, read its codes, drive it: each goes on the clock. What the machine makes of it is told after your
            call.
          </Text>
          <ActionButton onClick={() => void navigate(`/jobs/${String(jobId)}/call`)}>
            Make your call
          </ActionButton>
          <QuietButton h="40px" onClick={() => drive.mutate()} loading={drive.isPending} disabled={driven}>
            {driven ? "Driven" : "Drive it, 25 min"}
          </QuietButton>
        </>
      )}
      {drive.isError && <ErrorNote error={drive.error} onClose={() => drive.reset()} />}
      <Steps steps={attempt.steps} />
    </Flex>
  );
}

function Figure({ name, value }: { name: string; value: string }) {
  return (
    <Box>
      <Text color="mute" fontSize="13px">
        {name}
      </Text>
      <Text fontSize="30px" fontWeight="720" lineHeight="1.1" whiteSpace="nowrap" fontVariantNumeric="tabular-nums" data-testid={name}>
        {value}
      </Text>
    </Box>
  );
}

function Steps({ steps }: { steps: Schemas["Step"][] }) {
  if (!steps.length) return <Text color="mute">Nothing was done yet.</Text>;
  return (
    <Box as="ol" listStyleType="none" aria-label="What was done" data-testid="steps">
      {steps.map((step, i) => (
        <Flex as="li" key={i} gap="2" justify="space-between" borderTopWidth="1px" borderColor="line" py="1" fontSize="13.5px">
          <Text minW="0">
            {step.title}
            {step.cylinder != null && `, cylinder ${String(step.cylinder)}`}
            {step.shown && <Box as="span" fontWeight="650">{`: ${step.shown.toLowerCase()}`}</Box>}
          </Text>
          <Text color="mute" flex="none">
            {minutesWords(step.minutes)}
          </Text>
        </Flex>
      ))}
    </Box>
  );
}
