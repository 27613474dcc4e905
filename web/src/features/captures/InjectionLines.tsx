/** What the injectors of every capture did, in a sentence each. */
import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import { analysisQuery } from "../../api/queries";
import { PanelTitle } from "../../ui";

export function InjectionLines({ jobId }: { jobId: number }) {
  const analysis = useQuery(analysisQuery(jobId));
  const lines = analysis.data?.analysis.captures.flatMap((capture) => (capture.injection ?? []).map((one) => ({ file: capture.file, words: one.words }))) ?? [];
  if (!lines.length) return null;
  return (
    <Box mt="4" data-testid="injection">
      <PanelTitle>Injection</PanelTitle>
      {lines.map((line) => (
        <Text key={`${line.file} ${line.words}`} fontSize="14px">
          {line.words}{" "}
          <Box as="span" color="mute" fontSize="13px">
            {line.file.replace(/\.capture\.json$/, "")}
          </Box>
        </Text>
      ))}
    </Box>
  );
}
