/** The state of the engine in one row, each with a list that arrows walk. */
import { Box, Flex, Text } from "@chakra-ui/react";

import { Select } from "../../ui";
import { type Said, STATES } from "./words";

type Props = { said: Said; onSay: (said: Said) => void };

const NAMES: Record<keyof typeof STATES, string> = {
  condition: "State",
  temperature: "Temperature",
  phasers: "Phasers",
  throttle: "Throttle",
  symptom: "Symptom",
  repair: "Repair",
};

export function StateRow({ said, onSay }: Props) {
  return (
    <Flex gap="2" wrap="wrap" align="center" mt="2.5" data-state-row role="group" aria-label="State of the engine">
      <Text fontSize="13px" color="mute">
        State <Box as="span" aria-hidden="true">S</Box>
      </Text>
      {(Object.keys(STATES) as (keyof typeof STATES)[]).map((key) => (
        <Select
          key={key}
          label={NAMES[key]}
          hideLabel
          value={said[key] ?? ""}
          options={STATES[key]}
          onPick={(value) => onSay({ ...said, [key]: value === "" ? null : value })}
        />
      ))}
    </Flex>
  );
}
