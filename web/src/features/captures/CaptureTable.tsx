import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ErrorNote, PlainInput, QuietButton } from "../../ui";

type Capture = Schemas["ImportedCapture"];
type Props = { captures: Capture[]; jobId: number; onTakeOut: (capture: Capture) => void; onOpen: (id: number) => void };

export function CaptureTable({ captures, jobId, onTakeOut, onOpen }: Props) {
  return (
    <Table.Root size="sm" css={{ "& th, & td": { borderColor: "line", bg: "transparent", color: "ink", px: "2" }, "& td": { fontSize: "13.5px" } }}>
      <Table.Header>
        <Table.Row bg="transparent">
          {["Capture", "State", "Channels", "Length", "Rate"].map((head) => (
            <Table.ColumnHeader key={head} color="mute" textAlign={head === "Length" || head === "Rate" ? "end" : "start"}>
              {head}
            </Table.ColumnHeader>
          ))}
          <Table.Cell />
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {captures.map((capture) => (
          <Table.Row key={capture.id} bg="transparent" data-testid="capture">
            <Table.Cell>
              {capture.confirmed && !capture.unreadable ? (
                <Box asChild color="petrol" fontWeight="600">
                  <Link to={`/jobs/${jobId}/phase?capture=${capture.id}`}>{capture.title || capture.name}</Link>
                </Box>
              ) : (
                <Text fontWeight="600">{capture.title || capture.name}</Text>
              )}
              <Rename jobId={jobId} capture={capture} />
              {capture.cut_off && (
                <Text color="late" fontSize="13px">
                  cut off {capture.cut_off}
                </Text>
              )}
              <Text color="mute" fontSize="12px" whiteSpace="nowrap">
                {new Date(capture.created_at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" })}
              </Text>
            </Table.Cell>
            <Table.Cell>{capture.unreadable ? `cannot be read, not measured: ${capture.unreadable}` : capture.confirmed ? stateWords(capture) : "channels not confirmed: not measured"}</Table.Cell>
            <Table.Cell>{capture.channels.join(", ")}</Table.Cell>
            <Table.Cell textAlign="end" whiteSpace="nowrap">{capture.duration_s.toFixed(1)} s</Table.Cell>
            <Table.Cell textAlign="end" whiteSpace="nowrap">{(capture.sample_rate_hz / 1000).toFixed(0)} kS/s</Table.Cell>
            <Table.Cell>
              <Flex justify="end" gap="2">
                {!capture.unreadable && (
                  <QuietButton onClick={() => onOpen(capture.id)} aria-label={`Signals and channels of ${capture.name}`}>
                    Channels
                  </QuietButton>
                )}
                <QuietButton asChild>
                  <a href={`/api/captures/${capture.id}/files/data`} download aria-label={`Original file of ${capture.name}`}>
                    Original
                  </a>
                </QuietButton>
                <QuietButton onClick={() => onTakeOut(capture)} aria-label={`Take out ${capture.name}`}>
                  Take out
                </QuietButton>
              </Flex>
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

/** The name that a person gives it; its file's name stands below then. */
function Rename({ jobId, capture }: { jobId: number; capture: Capture }) {
  const changes = useChanges();
  const [editing, setEditing] = useState(false);
  const [title, setTitle] = useState(capture.title);
  const keep = useMutation({
    mutationFn: () => taken(client.PUT("/api/captures/{capture_id}/title", { params: { path: { capture_id: capture.id } }, body: { title } })),
    onSuccess: () => {
      setEditing(false);
      return changes.captureRenamed(jobId, capture.id);
    },
  });
  if (!editing)
    return (
      <Flex gap="2" align="center">
        {capture.title && (
          <Text color="mute" fontSize="12px">
            {capture.name}
          </Text>
        )}
        <button type="button" onClick={() => setEditing(true)} aria-label={`Rename ${capture.title || capture.name}`} style={{ fontSize: 12, textDecoration: "underline", minHeight: 24 }}>
          rename
        </button>
      </Flex>
    );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <Flex gap="1.5" align="center">
        <PlainInput aria-label={`Name of ${capture.name}`} autoFocus placeholder={capture.name} width={180} wrong={keep.isError} maxLength={120} value={title} onChange={(event) => setTitle(event.target.value)} />
        <QuietButton type="submit" loading={keep.isPending}>
          Keep
        </QuietButton>
      </Flex>
      {keep.isError && <ErrorNote error={keep.error} onClose={() => keep.reset()} />}
    </form>
  );
}

/** What is known of the engine's state; the unknown is left out. */
function stateWords(capture: Capture): string {
  const parts = [
    capture.condition,
    capture.temperature,
    capture.phasers === "unknown" ? null : `phasers ${capture.phasers}`,
    capture.throttle === "unknown" ? null : `throttle ${capture.throttle}`,
    capture.symptom === "unknown" ? null : `symptom ${capture.symptom}`,
    capture.repair === "after" ? "after the repair" : null,
  ];
  return parts.filter((part) => part && part !== "unknown").join(", ") || "not said";
}
