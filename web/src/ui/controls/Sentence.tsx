/** A finding: its sentence with the figure picked out, and what it rests on beneath. */
import { Box, Text } from "@chakra-ui/react";

type Props = { finding: { text: string; emphasis: string | null; detail: string } };

export function Sentence({ finding }: Props) {
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
