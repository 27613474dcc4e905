import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { PlainInput, QuietButton } from "../../ui";

type Props = { label: string; value: string; onChange: (value: string) => void; autoComplete?: string; secret?: boolean };

/** A short text with its label above. */
export function ShortField({ label, value, onChange, autoComplete = "off", secret = false }: Props) {
  return (
    <Box asChild fontSize="13px">
      <label>
        <Text color="mute" fontSize="13px">
          {label}
        </Text>
        <PlainInput
          type={secret ? "password" : "text"}
          autoComplete={autoComplete}
          maxLength={200}
          width={240}
          wrong={false}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      </label>
    </Box>
  );
}

/** The same for what is not shown, unless one asks for it. */
export function SecretField(props: Omit<Props, "secret">) {
  const [shown, setShown] = useState(false);
  return (
    <Flex gap="1" align="flex-end">
      <ShortField {...props} secret={!shown} />
      <QuietButton onClick={() => setShown(!shown)} aria-pressed={shown} aria-label={`Show: ${props.label}`}>
        {shown ? "Hide" : "Show"}
      </QuietButton>
    </Flex>
  );
}
