/** Captures: drop them in, see them, take one out and bring it back. */
import { Box, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";

import { client, type Schemas, taken } from "../../api/client";
import { capturesQuery } from "../../api/queries";
import { EmptyNote, ErrorNote, QuietButton, useKeys, Waiting } from "../../ui";
import { ImportSheet } from "../import";
import { CaptureTable } from "./CaptureTable";
import { DropZone } from "./DropZone";
import { Inbox } from "./Inbox";
import { type Pair, paired } from "./pairs";
import { sendCapture, takeWaiting, type Upload } from "./upload";
import { UploadList } from "./UploadList";

type Capture = Schemas["ImportedCapture"];

export function CapturesStation({ jobId }: { jobId: number }) {
  const captures = useQuery(capturesQuery(jobId));
  const queries = useQueryClient();
  const [uploads, setUploads] = useState<Record<string, Upload>>({});
  const [problems, setProblems] = useState<string[]>([]);
  const [takenOut, setTakenOut] = useState<Capture | null>(null);
  const refresh = () =>
    Promise.all([
      queries.invalidateQueries({ queryKey: ["job", jobId] }),
      queries.invalidateQueries({ queryKey: ["board"] }),
    ]);
  const pairs = useRef(new Map<string, Pair>());
  const [open, setOpen] = useState<number | null>(null);
  const send = async (pair: Pair, rateHz: number | null) => {
    pairs.current.set(pair.data.name, pair);
    const stored = await sendCapture(jobId, pair, rateHz, (upload) => setUploads((all) => ({ ...all, [upload.name]: upload })));
    if (!stored) return;
    await refresh();
    if (!stored.confirmed) setOpen((now) => now ?? stored.id);
  };
  const add = async (files: File[]) => {
    const pairing = await paired(files);
    setProblems(pairing.problems);
    setUploads({});
    for (const pair of pairing.pairs) await send(pair, null);
  };
  const take = async (name: string, rateHz: number | null) => {
    pairs.current.delete(name);
    const stored = await takeWaiting(jobId, name, rateHz, (upload) => setUploads((all) => ({ ...all, [upload.name]: upload })));
    if (!stored) return;
    await refresh();
    if (!stored.confirmed) setOpen((now) => now ?? stored.id);
  };
  const sendAgain = (name: string, rateHz: number) => {
    const pair = pairs.current.get(name);
    void (pair ? send(pair, rateHz) : take(name, rateHz));
  };
  const close = () => {
    const next = captures.data?.find((c) => !c.confirmed && c.id !== open);
    setOpen(next?.id ?? null);
  };
  const takeOut = useMutation({
    mutationFn: (capture: Capture) =>
      taken(client.DELETE("/api/captures/{capture_id}", { params: { path: { capture_id: capture.id } } })),
    onSuccess: (_, capture) => {
      setTakenOut(capture);
      return refresh();
    },
  });
  const bringBack = useMutation({
    mutationFn: (capture: Capture) =>
      taken(
        client.POST("/api/captures/{capture_id}/restoration", { params: { path: { capture_id: capture.id } } }),
      ),
    onSuccess: () => {
      setTakenOut(null);
      return refresh();
    },
  });
  useKeys({ u: () => takenOut && bringBack.mutate(takenOut), o: () => setOpen(captures.data?.at(-1)?.id ?? null) });
  const failure = takeOut.error ?? bringBack.error;
  return (
    <Box maxW="980px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {headline(captures.data)}
      </Text>
      <Text color="mute" mb="4">
        What the scope recorded, as it came. What each channel carries is proposed from its signal; you confirm it once.
      </Text>
      <DropZone onFiles={(files) => void add(files)} />
      <Inbox onTake={(name) => void take(name, null)} />
      {problems.map((problem) => (
        <Box key={problem} mt="3">
          <ErrorNote error={new Error(problem)} onClose={() => setProblems((all) => all.filter((p) => p !== problem))} />
        </Box>
      ))}
      <UploadList
        uploads={Object.values(uploads)}
        onRate={sendAgain}
        onClose={(name) => setUploads((all) => Object.fromEntries(Object.entries(all).filter(([key]) => key !== name)))}
      />
      {failure && <ErrorNote error={failure} />}
      {takenOut && (
        <Box role="status" bg="soft" rounded="sm" px="4" py="2" mt="4" display="flex" alignItems="center" gap="3">
          <Text flex="1">{takenOut.name} was taken out. Its samples are kept.</Text>
          <QuietButton onClick={() => bringBack.mutate(takenOut)} hint="U">
            Bring it back
          </QuietButton>
        </Box>
      )}
      {open !== null && <ImportSheet key={open} jobId={jobId} captureId={open} onClose={close} />}
      <Box mt="5">
        {captures.isPending && <Waiting>Reading the list</Waiting>}
        {captures.isError && <ErrorNote error={captures.error} onRetry={() => void captures.refetch()} />}
        {captures.data?.length === 0 && (
          <EmptyNote title="No capture yet">
            Record crank and cams together while cranking, eight cycles if the battery allows, and drop the file here.
          </EmptyNote>
        )}
        {captures.data && captures.data.length > 0 && (
          <CaptureTable captures={captures.data} jobId={jobId} onTakeOut={(capture) => takeOut.mutate(capture)} onOpen={setOpen} />
        )}
      </Box>
    </Box>
  );
}

function headline(captures: Capture[] | undefined): string {
  if (!captures) return "Captures";
  if (captures.length === 0) return "Nothing recorded yet";
  return captures.length === 1 ? "One capture recorded" : `${captures.length} captures recorded`;
}
