import { Box, Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { oddsWords, WeightMark } from "./marks";

type Props = { fault: Schemas["FaultResult"]; notCounted: readonly Schemas["NotCountedResult"][] };

/** What every kind of evidence says of the picked explanation, the heaviest first; then what did not count. */
export function Sentences({ fault, notCounted }: Props) {
  const evidence = fault.evidence ?? [];
  return (
    <Box as="section" aria-label={fault.title} data-testid="sentences">
      <Text as="h2" fontSize="16px" fontWeight="680" mb="1">
        {fault.title}
      </Text>
      {evidence.map((one) => (
        <Flex key={one.kind} gap="1.5" align="center" fontSize="13.5px" lineHeight="1.35" py="0.5">
          <WeightMark bits={one.bits} side={9} />
          <Text>
            {one.text}
            <Box as="span" color="mute">
              {` (${one.title.toLowerCase()}, ${oddsWords(one.bits)})`}
            </Box>
          </Text>
        </Flex>
      ))}
      {!evidence.length && (
        <Text fontSize="13.5px" color="mute">
          Nothing that was observed speaks clearly for it or against it.
        </Text>
      )}
      {fault.hint && (
        <Text fontSize="13px" color="mute" mt="1">
          {fault.hint}
        </Text>
      )}
      {notCounted.length > 0 && (
        <Text fontSize="13px" color="mute" mt="2" data-testid="not-counted">
          <b>Not counted:</b> {byReason(notCounted)}.
        </Text>
      )}
    </Box>
  );
}

/** What did not count, those of one reason together. */
function byReason(notCounted: readonly Schemas["NotCountedResult"][]): string {
  const reasons = [...new Set(notCounted.map((one) => one.reason))];
  return reasons
    .map((reason) => {
      const texts = notCounted.filter((one) => one.reason === reason).map((one) => one.text);
      return `${texts.join(", ")}: ${reason}`;
    })
    .join("; ");
}
