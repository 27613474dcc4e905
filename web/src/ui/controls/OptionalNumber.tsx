import { Flex, Text } from "@chakra-ui/react";

import { Labelled } from "./Labelled";
import { numberOf } from "./number-text";
import { PlainInput } from "./PlainInput";

type FieldProps = { label: string; unit: string; value: string; onChange: (value: string) => void };

/** A number that may be left empty. */
export function OptionalNumber({ label, unit, value, onChange }: FieldProps) {
  return (
    <Labelled label={label}>
        <Flex gap="1" align="center">
          <PlainInput
            aria-label={label}
            inputMode="decimal"
            width={64}
            wrong={value.trim() !== "" && numberOf(value) === null}
            value={value}
            onChange={(event) => onChange(event.target.value)}
          />
          <Text color="mute">{unit}</Text>
        </Flex>
    </Labelled>
  );
}
