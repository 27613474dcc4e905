/** While it is recorded: the measurement so far, every lane with its state in words, marks, stop. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, ErrorNote, PlainInput, QuietButton, Sentence, useKeys } from "../../ui";
import { AdjustPanel } from "./AdjustPanel";
import { LiveLanes } from "./LiveLanes";
import { SoFar } from "./SoFar";
import { StateRow } from "./StateRow";
import { Tiles } from "./Tiles";

type View = Schemas["RecordingView"];
type Props = { jobId: number; view: View };

export function Recording({ jobId, view }: Props) {
  const changes = useChanges();
  const [naming, setNaming] = useState(false);
  const at = { params: { path: { job_id: jobId } } };
  const refresh = () => changes.recordingChanged(jobId);
  const stop = useMutation({
    mutationFn: () => taken(client.POST("/api/jobs/{job_id}/recording/end", at)),
    onSuccess: () => changes.recordingKept(jobId),
  });
  const mark = useMutation({ mutationFn: () => taken(client.POST("/api/jobs/{job_id}/recording/marks", { ...at, body: { text: "" } })), onSuccess: refresh });
  const say = useMutation({ mutationFn: (said: View["said"]) => taken(client.PUT("/api/jobs/{job_id}/recording/said", { ...at, body: said })), onSuccess: refresh });
  useKeys({
    " ": () => !stop.isPending && stop.mutate(),
    m: () => mark.mutate(),
    n: () => setNaming(true),
    s: () => document.querySelector<HTMLElement>("[data-state-row] select")?.focus(),
  });
  // The last of it may have come by itself: the burst is over, or the scope was unplugged.
  useEffect(() => {
    if (view.phase === "done" || view.phase === "failed") void changes.recordingKept(jobId);
  }, [view.phase]); // eslint-disable-line react-hooks/exhaustive-deps
  const failure = stop.error ?? mark.error ?? say.error;
  return (
    <Box maxW="1020px" data-testid="recording">
      <Sentence finding={{ ...view.finding, emphasis: view.finding.emphasis ?? null, detail: `${view.instrument}, ${String(view.rate_hz / 1000)} kS/s. ${view.finding.detail}` }} />
      {failure && <ErrorNote error={failure} />}
      {view.lost > 0 && (
        <Text fontSize="14px" fontWeight="600">
          {view.lost} samples were lost on the way; they are missing in the capture, what follows is at its time.
        </Text>
      )}
      {view.clock_off !== null && (
        <Text fontSize="14px" fontWeight="600">
          The scope&apos;s clock runs {Math.abs(100 * view.clock_off).toFixed(1)} % {view.clock_off > 0 ? "fast" : "slow"}: angles stay right, speeds and times do not.
        </Text>
      )}
      {view.scanned && (
        <Text fontSize="13.5px" mb="2" data-testid="scanned-live">
          Scan tool, kept on the same clock: {scanWords(view.scanned)}
        </Text>
      )}
      {view.adjusting ? <AdjustPanel jobId={jobId} adjusting={view.adjusting} /> : view.question !== "sensor" && <Tiles view={view} />}
      <LiveLanes jobId={jobId} view={view} />
      <SoFar jobId={jobId} view={view} />
      <Flex gap="3" mt="3" wrap="wrap" align="center" position={{ base: "sticky", lg: "static" }} bottom="0" bg="paper" py="1.5">
        <ActionButton h="58px" fontSize="19px" px="6" onClick={() => stop.mutate()} loading={stop.isPending}>
          ■ Stop recording
          <Box as="span" fontWeight="400" fontSize="14px" ml="2" aria-hidden="true">
            Space
          </Box>
        </ActionButton>
        <QuietButton h="58px" fontSize="18px" px="5" borderWidth="2px" borderColor="ink" bg="panel" hint="M" onClick={() => mark.mutate()}>
          Mark the moment
        </QuietButton>
        <QuietButton h="58px" px="4" hint="N" disabled={!view.marks.length} onClick={() => setNaming(true)}>
          Name mark {view.marks.length || ""}
        </QuietButton>
      </Flex>
      {naming && view.marks.length > 0 && <NameMark jobId={jobId} number={view.marks.length} sensor={view.question === "sensor"} onDone={() => setNaming(false)} />}
      <StateRow said={view.said} onSay={say.mutate} />
    </Box>
  );
}

function scanWords(row: Schemas["ScanRow"]): string {
  return [
    row.rpm == null ? "" : `${row.rpm.toFixed(0)} rpm`,
    row.battery_v == null ? "" : `${row.battery_v.toFixed(1)} V`,
    row.coolant_c == null ? "" : `${row.coolant_c.toFixed(0)} °C`,
    row.manifold_bar == null ? "" : `${row.manifold_bar.toFixed(2)} bar in the manifold`,
    row.synchronised == null ? "" : row.synchronised ? "synchronised" : "not synchronised",
  ]
    .filter(Boolean)
    .join(", ");
}

function NameMark({ jobId, number, sensor, onDone }: { jobId: number; number: number; sensor: boolean; onDone: () => void }) {
  const changes = useChanges();
  const [text, setText] = useState("");
  const name = useMutation({
    mutationFn: () =>
      taken(
        client.PUT("/api/jobs/{job_id}/recording/marks/{number}", {
          params: { path: { job_id: jobId, number: number - 1 } },
          body: { text },
        }),
      ),
    onSuccess: async () => {
      await changes.recordingChanged(jobId);
      onDone();
    },
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        name.mutate();
      }}
    >
      <Flex gap="2" mt="2" align="center">
        <PlainInput
          aria-label={`Name of mark ${String(number)}`}
          placeholder={sensor ? "Its temperature (62 °C), or what happened" : `What happened at mark ${String(number)}`}
          autoFocus
          width={320}
          wrong={false}
          maxLength={120}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && onDone()}
        />
        <QuietButton type="submit">Save the name</QuietButton>
      </Flex>
      {name.isError && <ErrorNote error={name.error} onClose={name.reset} />}
    </form>
  );
}
