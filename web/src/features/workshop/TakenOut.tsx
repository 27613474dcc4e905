import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { takenOutQuery } from "../../api/queries";
import { ActionButton, ErrorNote, QuietButton, Sheet, Waiting } from "../../ui";
import { moment } from "./roles";

type Kind = "job" | "capture";
type One = { kind: Kind; id: number; title: string; removedAt: string };

/** What was taken out can be brought back; a lead can erase it for good. */
export function TakenOut({ lead }: { lead: boolean }) {
  const found = useQuery(takenOutQuery);
  const changes = useChanges();
  const [asked, setAsked] = useState<One | null>(null);
  const back = useMutation({ mutationFn: bringBack, onSuccess: () => changes.takenOutChanged() });
  const erase = useMutation({
    mutationFn: eraseForGood,
    onSuccess: () => {
      setAsked(null);
      return changes.takenOutChanged();
    },
  });
  if (found.isPending) return <Waiting>Looking what was taken out</Waiting>;
  if (found.isError) return <ErrorNote error={found.error} onRetry={() => void found.refetch()} />;
  const all: One[] = [
    ...found.data.jobs.map((j) => ({ kind: "job" as const, id: j.id, title: `Job ${String(j.id)}: ${j.vehicle}`, removedAt: j.removed_at })),
    ...found.data.captures.map((c) => ({
      kind: "capture" as const,
      id: c.id,
      title: `Capture ${c.name} of job ${String(c.job_id)}`,
      removedAt: c.removed_at,
    })),
  ];
  if (!all.length) return <Text color="mute">Nothing. Jobs and captures that are taken out wait here until they are brought back or erased.</Text>;
  return (
    <>
      {back.isError && <ErrorNote error={back.error} onClose={() => back.reset()} />}
      <Box as="ul" listStyleType="none" data-testid="taken-out">
        {all.map((one) => (
          <Flex as="li" key={`${one.kind} ${String(one.id)}`} gap="3" align="center" borderBottomWidth="1px" borderColor="line" py="2" wrap="wrap">
            <Text flex="1" minW="240px" overflowWrap="anywhere">
              {one.title}
            </Text>
            <Text color="mute" fontSize="13px">
              {moment(one.removedAt)}
            </Text>
            <QuietButton onClick={() => back.mutate(one)} aria-label={`Bring it back: ${one.title}`}>
              Bring it back
            </QuietButton>
            {lead && (
              <QuietButton onClick={() => setAsked(one)} aria-label={`Erase ${one.title} for good`}>
                Erase for good
              </QuietButton>
            )}
          </Flex>
        ))}
      </Box>
      <Sheet title="Erase for good" open={asked !== null} onClose={() => setAsked(null)} narrow>
        {erase.isError && <ErrorNote error={erase.error} onClose={() => erase.reset()} />}
        <Text fontWeight="650">{asked?.title}</Text>
        <Text mt="2">
          Its samples, its original files and every result that rests on them are erased. Nothing brings them back. Backups that were made
          before still hold them.
        </Text>
        <Flex gap="2" mt="4">
          <ActionButton bg="late" color="panel" loading={erase.isPending} onClick={() => asked && erase.mutate(asked)}>
            Erase it
          </ActionButton>
          <QuietButton h="40px" onClick={() => setAsked(null)}>
            Leave it
          </QuietButton>
        </Flex>
      </Sheet>
    </>
  );
}

async function bringBack(one: One): Promise<unknown> {
  if (one.kind === "job") return taken(client.POST("/api/jobs/{job_id}/restoration", { params: { path: { job_id: one.id } } }));
  return taken(client.POST("/api/captures/{capture_id}/restoration", { params: { path: { capture_id: one.id } } }));
}

async function eraseForGood(one: One): Promise<unknown> {
  if (one.kind === "job") return taken(client.POST("/api/jobs/{job_id}/erasure", { params: { path: { job_id: one.id } } }));
  return taken(client.POST("/api/captures/{capture_id}/erasure", { params: { path: { capture_id: one.id } } }));
}
