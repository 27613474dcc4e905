/** Captures: drop them in, see them, take one out and bring it back. */
import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { capturesQuery, isRunning, recordingQuery } from "../../api/queries";
import { useDropped } from "../../app/dropped";
import { EmptyNote, ErrorNote, useKeys, useTakingOut, Waiting } from "../../ui";
import { ImportSheet } from "../import";
import { RecordCard, Recording, SensorTestPanel } from "../record";
import { CaptureTable } from "./CaptureTable";
import { DropZone } from "./DropZone";
import { Inbox } from "./Inbox";
import { InjectionLines } from "./InjectionLines";
import { OutOfJob } from "./OutOfJob";
import { type Pair, paired } from "./pairs";
import { sendCapture, takeWaiting, type Upload } from "./upload";
import { UploadList } from "./UploadList";

type Capture = Schemas["ImportedCapture"];

export function CapturesStation({ jobId }: { jobId: number }) {
  const recording = useQuery(recordingQuery(jobId));
  if (recording.data && isRunning(recording.data)) return <Recording jobId={jobId} view={recording.data} />;
  return <Captures jobId={jobId} ended={recording.data ?? null} />;
}

function Captures({ jobId, ended }: { jobId: number; ended: Schemas["RecordingView"] | null }) {
  const captures = useQuery(capturesQuery(jobId));
  const changes = useChanges();
  const [uploads, setUploads] = useState<Record<string, Upload>>({});
  const [problems, setProblems] = useState<string[]>([]);
  const refresh = () => changes.capturesOfJobChanged(jobId);
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
  useDropped("captures", jobId, (files) => void add(files));
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
  const at = (id: number) => ({ params: { path: { capture_id: id } } });
  const taking = useTakingOut<number>({
    takeOut: (id) => taken(client.DELETE("/api/captures/{capture_id}", at(id))),
    bringBack: (id) => taken(client.POST("/api/captures/{capture_id}/restoration", at(id))),
    refresh,
  });
  useKeys({ u: () => taking.bringBack(), o: () => setOpen(captures.data?.at(-1)?.id ?? null) });
  return (
    <Box maxW="980px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {headline(captures.data)}
      </Text>
      <Text color="mute" mb="4">
        What the scope recorded, as it came. What each channel carries is proposed from its signal; you confirm it once.
      </Text>
      {ended?.failure && (
        <Box mb="3">
          <ErrorNote error={new Error(ended.failure)} />
        </Box>
      )}
      <RecordCard jobId={jobId} />
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
      {taking.failure && <ErrorNote error={taking.failure} onClose={taking.settle} />}
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
          <>
            {captures.data
              .filter((capture) => capture.condition === "bench")
              .map((capture) => (
                <SensorTestPanel key={capture.id} captureId={capture.id} name={capture.name} />
              ))}
          <CaptureTable captures={captures.data} jobId={jobId} onTakeOut={(capture) => taking.takeOut(capture.id)} onOpen={setOpen} />
            <InjectionLines jobId={jobId} />
          </>
        )}
        <OutOfJob jobId={jobId} newest={taking.gone} onBack={taking.bringBack} />
      </Box>
    </Box>
  );
}

function headline(captures: Capture[] | undefined): string {
  if (!captures) return "Captures";
  if (captures.length === 0) return "Nothing recorded yet";
  return captures.length === 1 ? "One capture recorded" : `${captures.length} captures recorded`;
}
