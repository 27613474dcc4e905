/** What the known good engines teach the profile: a person accepts, and it becomes the next version. */
import { Box, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { proposalQuery } from "../../api/queries";
import { ActionButton, ErrorNote, PanelTitle } from "../../ui";
import { keptParts, ProposalTable } from "./ProposalTable";

export function ProposalPanel({ engineId }: { engineId: number }) {
  const asked = useQuery(proposalQuery(engineId));
  const changes = useChanges();
  const [left, setLeft] = useState<string[]>([]);
  const accept = useMutation({
    mutationFn: ({ keep, from }: { keep: string[]; from: number }) =>
      taken(client.POST("/api/engines/{engine_id}/proposal", { params: { path: { engine_id: engineId }, header: madeFrom(from) }, body: { keep } })),
    onSuccess: changes.engineStored,
  });
  const proposal = asked.data?.proposal;
  if (accept.data) return <Stored engine={accept.data} />;
  if (!proposal?.sharper) return null;
  const keep = keptParts(proposal, left);
  return (
    <Box data-testid="proposal" mt="3">
      <PanelTitle note={`from ${(asked.data?.cars ?? []).join(", ")}`}>What they teach the profile</PanelTitle>
      <ProposalTable proposal={proposal} left={left} onLeft={setLeft} />
      {accept.isError && <ErrorNote error={accept.error} onClose={accept.reset} />}
      <ActionButton mt="2" disabled={!keep.length || accept.isPending} onClick={() => accept.mutate({ keep, from: asked.data?.version ?? 0 })}>
        Save as the next version of the profile
      </ActionButton>
    </Box>
  );
}

function Stored({ engine }: { engine: Schemas["EngineSummary"] }) {
  return (
    <Text fontSize="13.5px" mt="3" role="status">
      Saved as version {engine.version}. Jobs keep theirs until they are moved: <Link to={`/engines/${String(engine.id)}`}>{engine.name}</Link>.
    </Text>
  );
}
