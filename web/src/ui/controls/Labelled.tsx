/** A field under its label. */
import { Box, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

export function Labelled({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box asChild fontSize="13px" minW="0" maxW="full">
      <label>
        <Text color="mute" fontSize="13px">
          {label}
        </Text>
        {children}
      </label>
    </Box>
  );
}
