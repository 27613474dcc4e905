/** The call in full: every explanation with for and against, and what the result rests on. */
import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { analysisQuery } from "../../api/queries";
import { EmptyNote, ErrorNote, percent, QuietButton, Waiting } from "../../ui";
import { Explanations } from "./Explanations";

export function CallStation({ jobId }: { jobId: number }) {
  const analysis = useQuery(analysisQuery(jobId));
  if (analysis.isPending) return <Waiting>Weighing the explanations</Waiting>;
  if (analysis.isError) return <ErrorNote error={analysis.error} onRetry={() => void analysis.refetch()} />;
  if (!analysis.data)
    return (
      <EmptyNote title="No call yet">
        A call needs a capture: station <Link to={`/jobs/${jobId}/captures`}>4 Captures</Link>.
      </EmptyNote>
    );
  const { verdict, provenance } = analysis.data.analysis;
  return (
    <Box maxW="680px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {headline(verdict)}
      </Text>
      <Text color="mute" mb="4">
        {verdict.undecided ? verdict.undecided_because : "Open an explanation to see what speaks for and against it."}
      </Text>
      <Explanations faults={verdict.faults} openFirst />
      <Text as="h2" fontSize="16px" fontWeight="680" mt="5" mb="1">
        What this rests on
      </Text>
      <Text fontSize="13.5px" color="mute">
        {provenance.software}, numbers {provenance.numbers}
      </Text>
      {provenance.captures.map((capture) => (
        <Text key={capture.sha256} fontSize="13.5px" color="mute">
          {capture.file}, checksum {capture.sha256.slice(0, 12)}
        </Text>
      ))}
      <QuietButton asChild mt="3">
        <a href={`/api/jobs/${jobId}/result`} download={`job-${jobId}.analysis.json`}>
          Save the result as a file
        </a>
      </QuietButton>
    </Box>
  );
}

function headline(verdict: Schemas["Verdict"]): string {
  const leader = verdict.faults[0];
  if (verdict.undecided || !leader) return "Undecided";
  return `${leader.title}, ${percent(leader.probability)}`;
}
