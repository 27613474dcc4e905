/** What the fleet teaches the profile: a person accepts, and it becomes the next version. */
import { Box, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { ActionButton, ErrorNote, PanelTitle } from "../../ui";
import { keptParts, ProposalTable } from "../standards";

export function Taught({ kind }: { kind: Schemas["KindView"] }) {
  const changes = useChanges();
  const session = useQuery(sessionQuery);
  const [left, setLeft] = useState<string[]>([]);
  const accept = useMutation({
    mutationFn: (keep: string[]) =>
      taken(
        client.POST("/api/fleet/kinds/{engine_sha256}/proposal", {
          params: { path: { engine_sha256: kind.engine_sha256 } },
          body: { keep },
        }),
      ),
    onSuccess: () => changes.engineStored(),
  });
  const { proposal } = kind;
  if (accept.data)
    return (
      <Text mt="4" role="status">
        Saved as version {accept.data.version}. Jobs keep theirs until they are moved:{" "}
        <Box asChild color="petrol" fontWeight="600">
          <Link to={`/engines/${String(accept.data.id)}`}>{accept.data.name}</Link>
        </Box>
      </Text>
    );
  if (!proposal)
    return (
      <Box as="section" aria-label="What it teaches the profile">
        <PanelTitle>What it teaches the profile</PanelTitle>
        <Text fontSize="13.5px">Too few cars count to say more than the profile does.</Text>
      </Box>
    );
  const keep = keptParts(proposal, left);
  return (
    <Box as="section" aria-label="What it teaches the profile" maxW="900px" data-testid="fleet-proposal">
      <PanelTitle note="edges as they are when new; nothing changes until you accept">What it teaches the profile</PanelTitle>
      <ProposalTable proposal={proposal} left={left} onLeft={setLeft} />
      {accept.isError && <ErrorNote error={accept.error} onClose={() => accept.reset()} />}
      {session.data?.role !== "reader" && (
        <ActionButton mt="2" disabled={!keep.length} loading={accept.isPending} onClick={() => accept.mutate(keep)}>
          Save as the next version of the profile
        </ActionButton>
      )}
    </Box>
  );
}
