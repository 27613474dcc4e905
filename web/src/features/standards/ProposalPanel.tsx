/** What the known good engines teach the profile: a person accepts, and it becomes the next version. */
import { Box, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { proposalQuery } from "../../api/queries";
import { ActionButton, ErrorNote, offsetWords, PanelTitle, plusMinus, QuietTable } from "../../ui";

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
  const parts = [...proposal.cams.map((cam) => cam.cam), ...(proposal.index ? ["index"] : [])];
  const keep = parts.filter((part) => !left.includes(part));
  const tick = (part: string) => (
    <input
      type="checkbox"
      style={{ width: 18, height: 18 }}
      checked={!left.includes(part)}
      aria-label={`Take over ${part === "index" ? "the index" : part}`}
      onChange={() => setLeft((now) => (now.includes(part) ? now.filter((one) => one !== part) : [...now, part]))}
    />
  );
  return (
    <Box data-testid="proposal" mt="3">
      <PanelTitle note={`from ${(asked.data?.cars ?? []).join(", ")}`}>What they teach the profile</PanelTitle>
      <QuietTable label="Proposal" heads={["", "Part", "Moves by", "Half width", "Engines"]}>
        {proposal.cams.map((cam) => (
          <Table.Row key={cam.cam} bg="transparent">
            <Table.Cell>{tick(cam.cam)}</Table.Cell>
            <Table.Cell>Edges of {cam.cam}</Table.Cell>
            <Table.Cell whiteSpace="nowrap">
              {offsetWords(cam.mean_moved_deg, cam.mean_u95_deg)} {plusMinus(cam.mean_u95_deg)}°
            </Table.Cell>
            <Table.Cell whiteSpace="nowrap">
              {plusMinus(cam.u95_before_deg)}° → <b>{plusMinus(cam.u95_after_deg)}°</b>
            </Table.Cell>
            <Table.Cell>{cam.engines}</Table.Cell>
          </Table.Row>
        ))}
        {proposal.index && (
          <Table.Row bg="transparent">
            <Table.Cell>{tick("index")}</Table.Cell>
            <Table.Cell>Index, tooth 1 to TDC</Table.Cell>
            <Table.Cell whiteSpace="nowrap">{offsetWords(proposal.index.moved_deg, proposal.index.u95_after_deg)}</Table.Cell>
            <Table.Cell whiteSpace="nowrap">
              {plusMinus(proposal.index.u95_before_deg)}° → <b>{plusMinus(proposal.index.u95_after_deg)}°</b>
            </Table.Cell>
            <Table.Cell>{proposal.index.engines}</Table.Cell>
          </Table.Row>
        )}
      </QuietTable>
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
