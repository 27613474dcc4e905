/** What a person says about a capture here: the stretch to judge from, a cylinder taken out, kept as known good. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { Choice, NumberField, OutdatedNote, QuietButton } from "../../ui";
import { KnownGoodChoice } from "../standards";
import { CycleBar } from "./CycleBar";

type Capture = Schemas["ImportedCapture"];
/** The version that was seen when it was said. */
type From = { from: number };
type Props = { jobId: number; capture: Capture; view: Schemas["CompressionView"] };

export function SealControls({ jobId, capture, view }: Props) {
  const changes = useChanges();
  const refresh = () => changes.captureChanged(jobId, capture.id);
  const path = { capture_id: capture.id };
  const span = useMutation({
    mutationFn: ({ from, ...body }: From & { from_s: number | null; to_s: number | null }) =>
      taken(client.PUT("/api/captures/{capture_id}/seal-span", { params: { path, header: madeFrom(from) }, body })),
    onSuccess: refresh,
  });
  const out = useMutation({
    mutationFn: ({ from, cylinder }: From & { cylinder: number | null }) =>
      taken(client.PUT("/api/captures/{capture_id}/taken-out", { params: { path, header: madeFrom(from) }, body: { cylinder } })),
    onSuccess: refresh,
  });
  const from = capture.version;
  const settle = () => [span, out].forEach((m) => m.reset());
  /** The same once more, over what a colleague has set meanwhile. */
  const again = (version: number) => {
    if (span.isError) span.mutate({ ...span.variables, from: version });
    if (out.isError) out.mutate({ ...out.variables, from: version });
  };
  const theirs = async () => {
    await refresh();
    settle();
  };
  const failure = span.error ?? out.error;
  return (
    <Box mt="4" data-testid="seal-controls">
      <CycleBar view={view} capture={capture} />
      <Span key={`${String(capture.seal_from_s)} ${String(capture.seal_to_s)}`} view={view} pending={span.isPending} onSpan={(body) => span.mutate({ ...body, from })} />
      <Flex columnGap="6" rowGap="2" wrap="wrap" mt="2" align="center">
        <Choice
          label="Taken out on purpose"
          options={[
            { value: "none", text: "None" },
            ...[...view.bars].map((bar) => bar.cylinder).sort((a, b) => a - b).map((c) => ({ value: String(c), text: String(c) })),
          ]}
          value={view.taken_out === null ? "none" : String(view.taken_out)}
          onPick={(c) => out.mutate({ from, cylinder: c === "none" ? null : Number(c) })}
        />
        <KnownGoodChoice capture={capture} />
      </Flex>
      {failure && (
        <OutdatedNote error={failure} onMine={again} onTheirs={() => void theirs()} onClose={settle} />
      )}
    </Box>
  );
}

type SpanProps = {
  view: Schemas["CompressionView"];
  pending: boolean;
  onSpan: (body: { from_s: number | null; to_s: number | null }) => void;
};

function Span({ view, pending, onSpan }: SpanProps) {
  const [from, setFrom] = useState(view.settled_from_s);
  const [to, setTo] = useState(view.settled_to_s);
  const changed = from !== view.settled_from_s || to !== view.settled_to_s;
  return (
    <Flex gap="3" wrap="wrap" align="center" mt="1">
      <NumberField label="Judged from" value={round(from)} onChange={setFrom} />
      <NumberField label="to" value={round(to)} onChange={setTo} after="s" />
      <QuietButton disabled={!changed || to <= from} loading={pending} onClick={() => onSpan({ from_s: from, to_s: to })}>
        Judge this stretch
      </QuietButton>
      {view.chosen && (
        <QuietButton loading={pending} onClick={() => onSpan({ from_s: null, to_s: null })}>
          Settled cycles again
        </QuietButton>
      )}
      <Text fontSize="13px" color="mute">
        {view.chosen ? "chosen by hand" : "settled speed, inrush and run-up left out"}
      </Text>
    </Flex>
  );
}

function round(s: number): number {
  return Math.round(s * 1000) / 1000;
}
