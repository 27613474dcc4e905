/** One part of a page under its heading. */
import { Box, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box as="section" aria-label={title} maxW="1040px" borderTopWidth="1px" borderColor="line" pt="4" pb="6">
      <Text as="h2" fontSize="20px" fontWeight="680" mb="2">
        {title}
      </Text>
      {children}
    </Box>
  );
}
