import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { PRACTISING } from "../../api/base";
import { rejudgingQuery } from "../../api/fleet-queries";
import { QuietButton } from "../../ui";

/** On the board, while calls of an older version stand. */
export function UpdateNote() {
  const rejudged = useQuery({ ...rejudgingQuery, enabled: !PRACTISING });
  const every = (rejudged.data?.unread.length ?? 0) + (rejudged.data?.revised.length ?? 0);
  if (!rejudged.data || every === 0) return null;
  return (
    <Flex borderLeftWidth="4px" borderColor="petrol" pl="3" py="1" mb="3" gap="3" align="center" wrap="wrap" data-testid="update-note">
      <Box>
        {every === 1 ? "One job was" : `${String(every)} jobs were`} called by an older version than {rejudged.data.software}, and stand as they were.
      </Box>
      <QuietButton asChild>
        <Link to="/updates">See what would change</Link>
      </QuietButton>
    </Flex>
  );
}
