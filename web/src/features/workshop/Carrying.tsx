/** The workshop's name on every page, and all its jobs as open files. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { apiError, client, type Schemas, taken, unreachable } from "../../api/client";
import { workshopNameQuery } from "../../api/closing-queries";
import { ActionButton, ErrorNote, FileButton, QuietButton } from "../../ui";
import { ShortField } from "./fields";

export function NameOnPages() {
  const known = useQuery(workshopNameQuery);
  if (!known.data) return known.isError ? <ErrorNote error={known.error} /> : null;
  return <NameForm key={`${known.data.name} ${known.data.address}`} known={known.data} />;
}

function NameForm({ known }: { known: Schemas["WorkshopName"] }) {
  const changes = useChanges();
  const [name, setName] = useState(known.name);
  const [address, setAddress] = useState(known.address);
  const keep = useMutation({
    mutationFn: () => taken(client.PUT("/api/workshop-name", { body: { name, address } })),
    onSuccess: () => changes.workshopNamed(),
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <Flex gap="3" wrap="wrap" align="flex-end">
        <ShortField label="Name on every page" value={name} onChange={setName} />
        <ShortField label="Address" value={address} onChange={setAddress} />
        <ActionButton type="submit" h="32px" fontSize="13px" disabled={(name === known.name && address === known.address) || keep.isPending}>
          Keep
        </ActionButton>
      </Flex>
      {keep.isError && <ErrorNote error={keep.error} onClose={() => keep.reset()} />}
    </form>
  );
}

export function Carrying({ lead }: { lead: boolean }) {
  const changes = useChanges();
  const take = useMutation({
    mutationFn: async (file: File) => {
      const form = new FormData();
      form.append("archive", file);
      const answer = await fetch("/api/workshop/import", { method: "POST", body: form }).catch(() => {
        throw unreachable();
      });
      const body: unknown = await answer.json().catch(() => null);
      if (!answer.ok) throw apiError(answer.status, body);
      return body as Schemas["TakenIn"];
    },
    onSuccess: () => changes.jobsTakenIn(),
  });
  return (
    <Box>
      <Flex gap="3" wrap="wrap" align="center">
        {lead && (
          <QuietButton asChild h="40px">
            <a href="/api/workshop/export" download>
              All jobs as one archive
            </a>
          </QuietButton>
        )}
        <FileButton name="Archive of jobs" accept=".zip" testId="archive-file" loading={take.isPending} onFile={(file) => take.mutate(file)}>
          Take an archive in
        </FileButton>
        <Text color="mute" fontSize="13px">
          open files in a zip: captures as they came, job documents, photos, results; none is taken in twice
        </Text>
      </Flex>
      {take.isSuccess && (
        <Text role="status" mt="2" data-testid="taken-in">
          {take.data.job_ids.length === 1 ? "One job" : `${String(take.data.job_ids.length)} jobs`} taken in, {take.data.already} were here already.
        </Text>
      )}
      {take.data?.refused.map((line) => (
        <Text key={line} fontSize="13.5px" color="late">
          Left out: {line}
        </Text>
      ))}
      {take.isError && <ErrorNote error={take.error} onClose={() => take.reset()} />}
    </Box>
  );
}
