import { Box, Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { GATE_WORDS, upperFirst } from "../../ui";
import { WhyMark } from "../why";

type Step = Schemas["Verdict"]["teardown"];

const STEPS: { step: Step; text: string }[] = [
  { step: "no", text: "no" },
  { step: "confirm_first", text: "confirm first" },
  { step: "go", text: "open up" },
];

/** May the covers come off? Three steps, the current one filled, and what is missing in one sentence. */
export function Gate({ verdict }: { verdict: Schemas["Verdict"] }) {
  return (
    <Box borderWidth="2px" borderColor="ink" rounded="md" px="3.5" py="2.5" data-testid="gate">
      <Flex justify="space-between" align="flex-start">
        <Text fontSize="30px" fontWeight="720" lineHeight="1.1" letterSpacing="-0.01em">
          {upperFirst(GATE_WORDS[verdict.teardown])}
        </Text>
        <WhyMark id="gate" about="The gate" />
      </Flex>
      <Flex as="ol" gap="1" my="2" listStyleType="none" aria-label="Covers off?">
        {STEPS.map(({ step, text }) => {
          const here = step === verdict.teardown;
          return (
            <Box
              as="li"
              key={step}
              flex="1 1 auto"
              textAlign="center"
              fontSize="13px"
              px="2"
              py="1"
              rounded="sm"
              borderWidth="1px"
              borderColor={here ? "ink" : "line"}
              bg={here ? "ink" : "transparent"}
              color={here ? "panel" : "mute"}
              fontWeight={here ? "700" : "400"}
              whiteSpace="nowrap"
              aria-current={here ? "step" : undefined}
            >
              {text}
            </Box>
          );
        })}
      </Flex>
      <Text fontSize="13.5px" lineHeight="1.4" color="mute">
        {verdict.teardown_because}
      </Text>
    </Box>
  );
}
