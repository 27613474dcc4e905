import { Box, Text } from "@chakra-ui/react";

import { PlainInput } from "../../ui";

type Props = { label: string; value: string; onChange: (value: string) => void; autoComplete?: string; secret?: boolean };

/** A short text with its label above. */
export function ShortField({ label, value, onChange, autoComplete = "off", secret = false }: Props) {
  return (
    <Box asChild fontSize="13px">
      <label>
        <Text color="mute" fontSize="12.5px">
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

export function SecretField(props: Omit<Props, "secret">) {
  return <ShortField {...props} secret />;
}
