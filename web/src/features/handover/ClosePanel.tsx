/** How the job ends: cause confirmed, refuted or unknown; who has it; notes. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import type { Told } from "../../api/told";
import { ActionButton, Choice, ErrorNote, PanelTitle, PlainInput, QuietButton, SmallForm } from "../../ui";
import { CAUSE_WORDS, CAUSES, type Closing } from "./words";

type Props = { job: Schemas["JobSummary"]; told: Told; doc: Schemas["HandOver"] };

export function ClosePanel({ job, told, doc }: Props) {
  return (
    <>
      {told.closing ? <Closed job={job} closing={told.closing} wrong={doc.proof?.wrong ?? []} /> : <CloseForm jobId={job.id} repaired={Boolean(told.repair)} />}
      <Desk key={`${told.holder} ${told.waiting_for}`} jobId={job.id} holder={told.holder} waiting={told.waiting_for} />
      <Notes jobId={job.id} notes={told.notes ?? []} />
    </>
  );
}

function Closed({ job, closing, wrong }: { job: Schemas["JobSummary"]; closing: Closing; wrong: string[] }) {
  const changes = useChanges();
  const reopen = useMutation({
    mutationFn: () => taken(client.DELETE("/api/jobs/{job_id}/closing", { params: { path: { job_id: job.id } } })),
    onSuccess: () => changes.toldChanged(job.id),
  });
  const called = closing.called;
  return (
    <Box as="section" aria-label="Closed" data-testid="closed">
      <PanelTitle>
        Closed {closing.at.slice(0, 10)}
        {closing.by && ` by ${closing.by}`}: cause {closing.cause}
      </PanelTitle>
      <Text fontSize="13.5px">{CAUSE_WORDS[closing.cause]}</Text>
      {called && called.faults?.[0] && (
        <Text fontSize="13.5px">
          Called then: {called.faults[0].title}, {(100 * called.faults[0].probability).toFixed(0)} in 100
          {called.minutes !== null && called.minutes !== undefined && `, after ${called.minutes.toFixed(0)} minutes of tests`}.
        </Text>
      )}
      {wrong.length > 0 && (
        <Text borderLeftWidth="4px" borderColor="late" pl="3" my="2" data-testid="wrong-call">
          {wrong.join(" ")}
        </Text>
      )}
      <QuietButton mt="2" onClick={() => reopen.mutate()} loading={reopen.isPending}>
        Open it again
      </QuietButton>
      {reopen.isError && <ErrorNote error={reopen.error} onClose={() => reopen.reset()} />}
    </Box>
  );
}

function CloseForm({ jobId, repaired }: { jobId: number; repaired: boolean }) {
  const changes = useChanges();
  const [cause, setCause] = useState<Closing["cause"]>("confirmed");
  const [why, setWhy] = useState("");
  const close = useMutation({
    mutationFn: () => taken(client.POST("/api/jobs/{job_id}/closing", { params: { path: { job_id: jobId } }, body: { cause, why } })),
    onSuccess: () => changes.toldChanged(jobId),
  });
  return (
    <Box as="section" aria-label="Close the job">
      <PanelTitle note="the call as it stands now is kept beside it">Close the job</PanelTitle>
      <Choice label="The cause that was called" options={CAUSES} value={cause} onPick={setCause} />
      <Text color="mute" fontSize="13px" mb="1">
        {CAUSE_WORDS[cause]}
        {!repaired && cause !== "unknown" && "; note what was found under Repair and proof, so that others learn from it"}
      </Text>
      <Flex gap="2" wrap="wrap" align="center">
        <PlainInput
          aria-label={cause === "refuted" ? "Why the call was wrong" : "A word about it"}
          placeholder={cause === "refuted" ? "Why the call was wrong" : "A word about it"}
          width={360}
          wrong={false}
          maxLength={2000}
          value={why}
          onChange={(event) => setWhy(event.target.value)}
        />
        <ActionButton onClick={() => close.mutate()} loading={close.isPending} data-testid="close-job">
          Close the job
        </ActionButton>
      </Flex>
      {close.isError && <ErrorNote error={close.error} onClose={() => close.reset()} />}
    </Box>
  );
}

function Desk({ jobId, holder, waiting }: { jobId: number; holder: string; waiting: string }) {
  const changes = useChanges();
  const [who, setWho] = useState(holder);
  const [what, setWhat] = useState(waiting);
  const keep = useMutation({
    mutationFn: () => taken(client.PUT("/api/jobs/{job_id}/desk", { params: { path: { job_id: jobId } }, body: { holder: who, waiting_for: what } })),
    onSuccess: () => changes.toldChanged(jobId),
  });
  const same = who === holder && what === waiting;
  return (
    <Box as="section" aria-label="Who has it">
      <PanelTitle note="the board shows it">Who has it</PanelTitle>
      <SmallForm saving={keep} disabled={same}>
        <PlainInput aria-label="Who has the job" placeholder="Name" width={180} wrong={false} maxLength={60} value={who} onChange={(event) => setWho(event.target.value)} />
        <PlainInput aria-label="What it waits for" placeholder="Waits for parts, for the owner" width={280} wrong={false} maxLength={200} value={what} onChange={(event) => setWhat(event.target.value)} />
      </SmallForm>
    </Box>
  );
}

function Notes({ jobId, notes }: { jobId: number; notes: NonNullable<Told["notes"]> }) {
  const changes = useChanges();
  const [text, setText] = useState("");
  const add = useMutation({
    mutationFn: () => taken(client.POST("/api/jobs/{job_id}/notes", { params: { path: { job_id: jobId } }, body: { text: text.trim() } })),
    onSuccess: () => {
      setText("");
      return changes.toldChanged(jobId);
    },
  });
  return (
    <Box as="section" aria-label="Notes" mb="6">
      <PanelTitle>Notes</PanelTitle>
      {notes.map((note, i) => (
        <Text key={`${note.at ?? ""} ${String(i)}`} fontSize="13.5px" mb="1" overflowWrap="anywhere" dir="auto" data-testid="note">
          {note.text}{" "}
          <Box as="span" color="mute">
            {[note.by, note.at?.slice(0, 10)].filter(Boolean).join(", ")}
          </Box>
        </Text>
      ))}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) add.mutate();
        }}
      >
        <Flex gap="2" wrap="wrap">
          <PlainInput aria-label="New note" placeholder="New note" width={460} wrong={false} maxLength={4000} value={text} onChange={(event) => setText(event.target.value)} />
          <QuietButton type="submit" disabled={!text.trim() || add.isPending}>
            Add
          </QuietButton>
        </Flex>
      </form>
      {add.isError && <ErrorNote error={add.error} onClose={() => add.reset()} />}
    </Box>
  );
}
