/** The plan: which test first, second, third, with what it costs and what it tells; redone after each answer. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { planQuery } from "../../api/queries";
import { ErrorNote, PanelTitle, QuietButton, Waiting } from "../../ui";

const FIRST = 3;

export function PlanList({ jobId }: { jobId: number }) {
  const plan = useQuery(planQuery(jobId));
  const [all, setAll] = useState(false);
  if (plan.isPending) return <Waiting>Weighing the tests</Waiting>;
  if (plan.isError) return <ErrorNote error={plan.error} onRetry={() => void plan.refetch()} />;
  const tests = all ? plan.data.tests : plan.data.tests.slice(0, FIRST);
  return (
    <Box as="section" aria-label="What to test first" bg="petrolSoft" rounded="md" px="3.5" py="2.5" mt="2" data-testid="plan">
      <PanelTitle note="by what it tells per minute and risk">What to test first</PanelTitle>
      {tests.length === 0 && <Text>Nothing is left that would tell much.</Text>}
      <Box as="ol">
        {tests.map((test, i) => (
          <PlanRow key={test.test} jobId={jobId} test={test} place={i + 1} />
        ))}
      </Box>
      {plan.data.tests.length > FIRST && (
        <QuietButton mt="1" onClick={() => setAll(!all)} aria-expanded={all}>
          {all ? "Only the first three" : `All ${String(plan.data.tests.length)} tests`}
        </QuietButton>
      )}
    </Box>
  );
}

function PlanRow({ jobId, test, place }: { jobId: number; test: Schemas["PlannedTestOut"]; place: number }) {
  const [open, setOpen] = useState(false);
  return (
    <Box as="li" listStyleType="none" py="1" data-testid="planned" data-test={test.test}>
      <Flex gap="2.5" align="center" wrap="wrap">
        <Text fontWeight="720" fontSize="18px" w="22px" fontVariantNumeric="tabular-nums">
          {place}
        </Text>
        <Box flex="1 1 320px" minW="0">
          <Text fontWeight="650">{test.title}</Text>
          <Text fontSize="13px">{test.why}.</Text>
        </Box>
        <QuietButton bg="panel" onClick={() => setOpen(!open)} aria-expanded={open} aria-label={`How: ${test.title}`}>
          How
        </QuietButton>
        {test.look && <Go to={`/jobs/${String(jobId)}/look`}>Note it at Look</Go>}
        {test.hook_up && <Go to={`/jobs/${String(jobId)}/hook-up?question=${test.hook_up}`}>Plan the hook-up</Go>}
      </Flex>
      {open && (
        <Text fontSize="13px" pl="32px" maxW="820px">
          {test.how}
        </Text>
      )}
    </Box>
  );
}

function Go({ to, children }: { to: string; children: string }) {
  return (
    <QuietButton asChild bg="panel">
      <Link to={to}>{children}</Link>
    </QuietButton>
  );
}
