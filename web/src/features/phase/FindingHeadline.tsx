import { Box, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { ErrorNote, Waiting } from "../../ui";

type Props = { result: Schemas["CaptureResult"] | undefined; failed: Error | null };

/** The measurement in a sentence, with its uncertainty under it. */
export function FindingHeadline({ result, failed }: Props) {
  if (failed) return <ErrorNote error={failed} />;
  if (!result) return <Waiting>Measuring</Waiting>;
  const finding = result.finding;
  if (!finding)
    return (
      <Text as="h1" fontSize="30px" fontWeight="720" mb="2" data-testid="headline">
        Nothing could be measured
      </Text>
    );
  const [before, after] = finding.emphasis ? finding.text.split(finding.emphasis) : [finding.text, ""];
  return (
    <Box mb="2.5">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" letterSpacing="-0.01em" data-testid="headline">
        {before}
        {finding.emphasis && (
          <Box as="span" color="late" data-testid="headline-number">
            {finding.emphasis}
          </Box>
        )}
        {after}
      </Text>
      <Text color="mute" title="The half width within which such a measurement lies 95 times in 100">
        {finding.detail}
      </Text>
    </Box>
  );
}
