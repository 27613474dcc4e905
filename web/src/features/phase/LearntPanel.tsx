/** What the signals taught where the profile says nothing, and the way to keep it as a profile. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, ErrorNote, QuietButton } from "../../ui";

type Props = { captureId: number; learnt: Schemas["LearntResult"]; onKept: (engine: Schemas["EngineSummary"]) => void };

export function LearntPanel({ captureId, learnt, onKept }: Props) {
  const [name, setName] = useState("");
  const changes = useChanges();
  const save = useMutation({
    mutationFn: () =>
      taken(client.POST("/api/captures/{capture_id}/learnt-engine", { params: { path: { capture_id: captureId } }, body: { name } })),
    onSuccess: (engine) => {
      onKept(engine);
      return changes.engineOfJobChanged();
    },
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
      <Text fontSize="13.5px" mb="2">
        Saved as a profile, these are a pattern of one car in an unknown state: no cam is called late by them until somebody
        says how that car was known to be good. This job is then read with the new profile.
      </Text>
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
          Save as engine profile
        </ActionButton>
      </Flex>
      {save.isError && <ErrorNote error={save.error} onClose={() => save.reset()} />}
    </Box>
  );
}

/** Said on the spot once a profile was kept: the panel itself is gone by then, since nothing is left to learn. */
export function KeptNote({ engine, onClose }: { engine: Schemas["EngineSummary"]; onClose: () => void }) {
  return (
    <Flex role="status" bg="soft" rounded="sm" px="4" py="2" mt="3" maxW="720px" align="center" gap="3" data-testid="kept">
      <Text flex="1" fontSize="13.5px">
        Saved as <b>{engine.name}</b>, version {engine.version}; this job is read with it now. It was learnt from one car in
        an unknown state and is no reference yet. <Link to={`/engines/${String(engine.id)}`}>Say how it was known good</Link>
      </Text>
      <QuietButton onClick={onClose}>Close</QuietButton>
    </Flex>
  );
}
