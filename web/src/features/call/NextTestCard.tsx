import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { ActionButton } from "../../ui";

/** The test that tells most for its minutes, and how it is done. */
export function NextTestCard({ test }: { test: Schemas["NextTest"] }) {
  const [open, setOpen] = useState(false);
  return (
    <Box bg="petrolSoft" rounded="md" p="3.5" data-testid="next-test">
      <Text fontSize="13px" fontWeight="700" color="petrol" textTransform="uppercase" letterSpacing="0.02em">
        Next test, {test.minutes.toFixed(0)} min, {test.cranks ? "cranks the engine" : "no cranking"}
      </Text>
      <Text fontSize="16px" fontWeight="680" lineHeight="1.25" my="1">
        {test.title}
      </Text>
      <Text fontSize="13.5px" lineHeight="1.4">
        {test.why}
      </Text>
      {open && (
        <Text fontSize="13.5px" lineHeight="1.45" mt="2" pt="2" borderTopWidth="1px" borderColor="line">
          {test.how}
        </Text>
      )}
      <ActionButton mt="2.5" onClick={() => setOpen(!open)} aria-expanded={open}>
        {open ? "Fold the steps" : "Show me how"}
      </ActionButton>
    </Box>
  );
}
