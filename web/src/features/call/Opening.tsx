import { Box, Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { MarksDrawing } from "./MarksDrawing";

/** What is found on opening if the call is true, what proves it false, and what to mind while opening. */
export function Opening({ opening }: { opening: Schemas["OpeningResult"] }) {
  return (
    <Box as="section" id="opening" tabIndex={-1} data-testid="opening">
      <Text as="h2" fontSize="16px" fontWeight="680" mb="1">
        On opening
      </Text>
      <Flex gap="4" direction={{ base: "column", md: "row" }}>
        {(opening.marks?.length ?? 0) > 0 && <MarksDrawing marks={opening.marks ?? []} />}
        <Box fontSize="13.5px" lineHeight="1.4" maxW="520px">
          <Part title="You should see" lines={[opening.see]} />
          <Part title="Not true if" lines={[opening.false_if]} />
          <Part title="Take care" lines={opening.hazards} />
          <Part title="Look over" lines={[opening.inspect.join(", ")]} />
          <Part title="Done together" lines={[opening.together.join(", ")]} />
        </Box>
      </Flex>
    </Box>
  );
}

function Part({ title, lines }: { title: string; lines: readonly string[] }) {
  const said = lines.filter(Boolean);
  if (!said.length) return null;
  return (
    <Box mb="2">
      <Text fontWeight="680">{title}</Text>
      {said.map((line) => (
        <Text key={line}>{line}</Text>
      ))}
    </Box>
  );
}
