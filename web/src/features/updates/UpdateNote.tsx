import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { PRACTISING } from "../../api/base";
import { olderCallsQuery } from "../../api/fleet-queries";
import { QuietButton } from "../../ui";

/** On the board, while calls of an older version stand. */
export function UpdateNote() {
  const older = useQuery({ ...olderCallsQuery, enabled: !PRACTISING });
  if (!older.data?.jobs) return null;
  const every = older.data.jobs;
  return (
    <Flex borderLeftWidth="4px" borderColor="petrol" pl="3" py="1" mb="3" gap="3" align="center" wrap="wrap" data-testid="update-note">
      <Box>
        {every === 1 ? "One job was" : `${String(every)} jobs were`} called by an older version than {older.data.software}, and stand as they were.
      </Box>
      <QuietButton asChild>
        <Link to="/updates">See what would change</Link>
      </QuietButton>
    </Flex>
  );
}
