/** What the signals taught where the profile says nothing, and the way to keep it as a profile. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, ErrorNote } from "../../ui";

type Props = { captureId: number; learnt: Schemas["LearntResult"] };

export function LearntPanel({ captureId, learnt }: Props) {
  const [name, setName] = useState("");
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      taken(client.POST("/api/captures/{capture_id}/learnt-engine", { params: { path: { capture_id: captureId } }, body: { name } })),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <Box borderWidth="1px" borderColor="line" rounded="md" bg="panel" p="4" mt="3" maxW="720px" data-testid="learnt">
      <Text fontWeight="680" fontSize="17px" mb="1">
        Learnt from the signals
      </Text>
      <Box as="ul" listStyleType="none" fontSize="13.5px" mb="2">
        {learnt.wheel && (
          <li>
            Crank wheel <b>{learnt.wheel}</b>, {learnt.signatures_per_turn === 1 ? "one signature" : `${learnt.signatures_per_turn ?? "?"} signatures`} per turn
          </li>
        )}
        {learnt.cams.map((cam) => (
          <li key={cam.cam}>
            Cam <b>{cam.cam}</b>: {cam.edges_per_cycle} edges per cycle, {cam.repeats_deg < 720 ? `the same again after ${cam.repeats_deg.toFixed(0)}°` : "no repeat within it"}
          </li>
        ))}
        {learnt.unknown.length > 0 && (
          <Box as="li" color="mute">
            Not known: {learnt.unknown.join("; ")}
          </Box>
        )}
      </Box>
      <Flex gap="2" align="center" wrap="wrap">
        <Input
          aria-label="Name of the new profile"
          placeholder="Name of the new engine profile"
          value={name}
          onChange={(event) => setName(event.target.value)}
          maxW="300px"
          h="40px"
          borderColor="line"
        />
        <ActionButton onClick={() => save.mutate()} disabled={!name.trim() || save.isPending}>
          Keep as engine profile
        </ActionButton>
      </Flex>
      {save.isError && <ErrorNote error={save.error} onClose={() => save.reset()} />}
    </Box>
  );
}
