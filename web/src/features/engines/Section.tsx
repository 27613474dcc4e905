import { Box, Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

type Props = { title: string; about?: string; action?: ReactNode; children: ReactNode };

/** One part of the form under its heading. */
export function Section({ title, about, action, children }: Props) {
  return (
    <Box as="section" aria-label={title} borderTopWidth="1px" borderColor="line" py="3">
      <Flex align="baseline" gap="3" mb="2">
        <Text as="h2" fontWeight="680" fontSize="17px">
          {title}
        </Text>
        {about && (
          <Text color="mute" fontSize="13px">
            {about}
          </Text>
        )}
        {action}
      </Flex>
      <Flex gap="3" rowGap="2.5" wrap="wrap" align="end">
        {children}
      </Flex>
    </Box>
  );
}
