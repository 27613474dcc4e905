/** When the scan tool drove a phaser, noted by hand where no lead was on its wire. */
import { Box, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { ActionButton, OutdatedNote, QuietButton, Select } from "../../ui";
import { Entry, numberOf } from "./FigureForm";

type Props = { jobId: number; capture: Schemas["ImportedCapture"]; cams: { id: string; name: string }[] };

export function CommandForm({ jobId, capture, cams }: Props) {
  const changes = useChanges();
  const [open, setOpen] = useState(false);
  const [cam, setCam] = useState(cams[0]?.id ?? "");
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [low, high] = [numberOf(from), numberOf(to)];
  const keep = useMutation({
    mutationFn: ({ version, commands }: { version: number; commands: Schemas["Command"][] }) =>
      taken(client.PUT("/api/captures/{capture_id}/commands", { params: { path: { capture_id: capture.id }, header: madeFrom(version) }, body: { commands } })),
    onSuccess: async () => {
      await changes.captureChanged(jobId, capture.id);
      setOpen(false);
    },
  });
  if (!open)
    return (
      <QuietButton onClick={() => setOpen(true)} disabled={!cams.length}>
        Note when the scan tool drove it
      </QuietButton>
    );
  const ready = low !== null && high !== null && high > low;
  const note = (commands: Schemas["Command"][]) => keep.mutate({ version: capture.version, commands });
  return (
    <Box borderWidth="1px" borderColor="line" rounded="sm" p="3" maxW="640px" role="form" aria-label="When the scan tool drove a phaser" data-testid="command-form">
      <Flex gap="3" wrap="wrap" align="flex-end">
        <Select label="Phaser of" value={cam} options={cams.map((one) => ({ value: one.id, text: one.name }))} onPick={setCam} />
        <Entry label="Driven from, s" value={from} onChange={setFrom} />
        <Entry label="Driven to, s" value={to} onChange={setTo} />
        <ActionButton disabled={!ready || keep.isPending} onClick={() => ready && note([{ cam, from_s: low, to_s: high, share: 1 }])}>
          Save it
        </ActionButton>
        <QuietButton onClick={() => note([])}>None was driven</QuietButton>
        <QuietButton onClick={() => setOpen(false)}>Close</QuietButton>
      </Flex>
      {keep.error && (
        <OutdatedNote error={keep.error} onMine={(version) => keep.mutate({ ...keep.variables, version })} onTheirs={() => void changes.captureChanged(jobId, capture.id)} onClose={keep.reset} />
      )}
    </Box>
  );
}
