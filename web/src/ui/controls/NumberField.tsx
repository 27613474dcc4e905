import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { PlainInput } from "./PlainInput";

type Props = { label: string; value: number; onChange: (value: number) => void; after?: string; width?: number };

/** A number with its unit; what is no number is marked and changes nothing. Decimal commas are read too. */
export function NumberField({ label, value, onChange, after, width = 76 }: Props) {
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? String(Number(value.toPrecision(7)));
  const wrong = text !== null && !Number.isFinite(parsed(text));
  return (
    <Flex asChild align="center" gap="1" fontSize="13px">
      <label>
        <Text color="mute">{label}</Text>
        <PlainInput
          inputMode="decimal"
          aria-label={label}
          width={width}
          wrong={wrong}
          value={shown}
          onChange={(event) => {
            setText(event.target.value);
            const number = parsed(event.target.value);
            if (Number.isFinite(number)) onChange(number);
          }}
          onBlur={() => setText(null)}
        />
        {after && <Text color="mute">{after}</Text>}
      </label>
    </Flex>
  );
}

function parsed(text: string): number {
  const bare = text.trim().replace(",", ".");
  return bare === "" ? NaN : Number(bare);
}
