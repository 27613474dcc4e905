/** The case, always in view: explanations, gate, next test, cautions. On a narrow screen it folds to a bar. */
import { Box, Flex, Text } from "@chakra-ui/react";
import type { UseQueryResult } from "@tanstack/react-query";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { ErrorNote, GATE_WORDS, percent, QuietButton, upperFirst, useKeys, Waiting } from "../../ui";
import { Cautions } from "./Cautions";
import { Explanations } from "./Explanations";
import { Gate } from "./Gate";
import { NextTestCard } from "./NextTestCard";

type Verdict = Schemas["Verdict"];
type Props = { analysis: UseQueryResult<Schemas["JobAnalysis"] | null> };

export function CasePanel({ analysis }: Props) {
  const [open, setOpen] = useState(true);
  const [raised, setRaised] = useState(false);
  useKeys({
    c: () => {
      setOpen((on) => !on);
      setRaised((on) => !on);
    },
  });
  const verdict = analysis.data?.analysis.verdict;
  return (
    <Box
      as="aside"
      aria-label="The case"
      bg="panel"
      borderColor="line"
      borderLeftWidth={{ base: "0", lg: "1px" }}
      borderTopWidth={{ base: "1px", lg: "0" }}
      gridColumn={{ base: "1", md: "2", lg: "auto" }}
      w={{ base: "auto", lg: open ? "288px" : "52px" }}
      maxH={{ base: raised ? "70dvh" : "108px", sm: raised ? "70dvh" : "66px", lg: "none" }}
      overflowY="auto"
      transition="max-height 150ms"
      data-testid="case"
    >
      <FoldedBar verdict={verdict} raised={raised} onToggle={() => setRaised(!raised)} />
      <Box data-case-body display={{ base: raised ? "block" : "none", lg: "block" }} px={{ base: "4", lg: open ? "4" : "1" }} py="3.5">
        <Flex display={{ base: "none", lg: "flex" }} justify="space-between" align="center" mb="2">
          {open && (
            <Text as="h2" fontSize="16px" fontWeight="680">
              The case
            </Text>
          )}
          <QuietButton onClick={() => setOpen(!open)} aria-expanded={open} aria-label={open ? "Fold the case" : "Open the case"}>
            {open ? "▸" : "◂"}
          </QuietButton>
        </Flex>
        <Box data-case-body display={{ base: "block", lg: open ? "block" : "none" }}>
          <Body analysis={analysis} verdict={verdict} />
        </Box>
      </Box>
    </Box>
  );
}

/** Read before the next test is begun; the others are for later. */
const FIRST_CAUTION = "stop_cranking";

function Body({ analysis, verdict }: Props & { verdict: Verdict | undefined }) {
  if (analysis.isError) return <ErrorNote error={analysis.error} onRetry={() => void analysis.refetch()} />;
  if (analysis.isPending) return <Waiting>Weighing the explanations</Waiting>;
  if (!verdict?.measured) return <Text color="mute">No call yet. It appears here with the first capture or look.</Text>;
  return (
    <Flex direction="column" gap="3" opacity={analysis.isFetching ? 0.7 : 1}>
      {verdict.undecided && (
        <Box borderLeftWidth="4px" borderColor="ink" pl="3">
          <Text fontWeight="680">Undecided</Text>
          <Text fontSize="13.5px">{verdict.undecided_because}</Text>
        </Box>
      )}
      <Explanations faults={verdict.faults} />
      <Gate verdict={verdict} />
      <Cautions cautions={verdict.cautions.filter((c) => c === FIRST_CAUTION)} />
      {verdict.next_test && <NextTestCard test={verdict.next_test} />}
      <Cautions cautions={verdict.cautions.filter((c) => c !== FIRST_CAUTION)} />
    </Flex>
  );
}

type BarProps = { verdict: Verdict | undefined; raised: boolean; onToggle: () => void };

function FoldedBar({ verdict, raised, onToggle }: BarProps) {
  const leader = verdict?.measured ? verdict.faults[0] : undefined;
  const stop = verdict?.cautions.includes(FIRST_CAUTION);
  const called = !leader || !verdict ? "No call yet" : verdict.undecided ? "Undecided" : `${leader.title}, ${percent(leader.probability)}`;
  return (
    <Flex data-case-bar display={{ base: "flex", lg: "none" }} align="center" columnGap="4" rowGap="1" px={{ base: "3", md: "4" }} py="1.5" minH="63px" wrap={{ base: "wrap", sm: "nowrap" }}>
      <Box flex={{ base: "1 0 100%", sm: "1" }} minW="0" order={{ base: 2, sm: 0 }}>
        <Text fontWeight="680" truncate>
          {called}
        </Text>
        <Text fontSize="13px" color="mute" truncate>
          {verdict?.next_test ? `Next: ${verdict.next_test.title}` : "The case"}
        </Text>
      </Box>
      {stop && (
        <Text flex="none" fontSize={{ base: "22px", md: "24px" }} fontWeight="720" lineHeight="1.1" color="late" borderLeftWidth="4px" borderColor="late" pl="2" data-testid="bar-stop">
          Stop cranking
        </Text>
      )}
      {verdict?.measured && (
        <Text fontSize={{ base: "22px", md: "30px" }} fontWeight="720" lineHeight="1.1" flex="none">
          {upperFirst(GATE_WORDS[verdict.teardown])}
        </Text>
      )}
      <QuietButton onClick={onToggle} aria-expanded={raised} hint="C" order={{ base: 1, sm: 0 }} ml={{ base: "auto", sm: "0" }}>
        {raised ? "Fold" : "Case"}
      </QuietButton>
    </Flex>
  );
}
