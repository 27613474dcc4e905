/** Starting and stopping the work, and how far it is. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import { apiPath } from "../../api/base";
import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { ActionButton, ErrorNote, QuietButton } from "../../ui";

export function Analysing({ state }: { state: Schemas["FleetState"] }) {
  const changes = useChanges();
  const session = useQuery(sessionQuery);
  const lead = session.data?.role === "lead";
  const start = useMutation({ mutationFn: () => taken(client.POST("/api/fleet")), onSuccess: () => changes.fleetMoved() });
  const stop = useMutation({ mutationFn: () => taken(client.DELETE("/api/fleet")), onSuccess: () => changes.fleetMoved() });
  const ran = useRef(state.running);
  useEffect(() => {
    // The tables are new once it has ended.
    if (ran.current && !state.running) void changes.fleetMade();
    ran.current = state.running;
  });
  const error = start.error ?? stop.error;
  return (
    <Box mb="4" data-testid="fleet-work">
      {error && <ErrorNote error={error} onClose={() => [start, stop].forEach((one) => one.reset())} />}
      {state.trouble && (
        <Text mb="2" role="alert">
          It ended before its time: {state.trouble} What was done is kept; begun again, it goes on there.
        </Text>
      )}
      <Flex gap="3" align="center" wrap="wrap">
        {state.running ? (
          <>
            <Box w="220px" h="8px" bg="line" rounded="full" role="progressbar" aria-label="Captures analysed" aria-valuemin={0} aria-valuemax={state.every} aria-valuenow={state.done}>
              <Box w={`${String(state.every ? (100 * state.done) / state.every : 0)}%`} h="full" bg="petrol" rounded="full" />
            </Box>
            <Text role="status">{state.words || "Looking what there is"}</Text>
            {lead && (
              <QuietButton onClick={() => stop.mutate()} loading={stop.isPending}>
                Stop
              </QuietButton>
            )}
          </>
        ) : (
          lead && (
            <ActionButton onClick={() => start.mutate()} loading={start.isPending}>
              {state.made_at === null ? "Analyse the fleet" : "Bring it up to date"}
            </ActionButton>
          )
        )}
        {state.made_at !== null && (
          <>
            <Text color="mute" fontSize="13.5px">
              As of {state.made_at.slice(0, 16).replace("T", " ")}
            </Text>
            <QuietButton asChild>
              <a href={apiPath("/api/fleet/table")} download>
                Table
              </a>
            </QuietButton>
          </>
        )}
      </Flex>
    </Box>
  );
}
