import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { apiPath } from "../../api/base";
import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { PlainInput, QuietButton, SmallForm } from "../../ui";

type Capture = Schemas["ImportedCapture"];
type Props = { captures: Capture[]; jobId: number; onTakeOut: (capture: Capture) => void; onOpen: (id: number) => void };

/** One row each: what it is called, what it shows, how long; beside each other where there is room, else below. */
export function CaptureTable({ captures, jobId, onTakeOut, onOpen }: Props) {
  return (
    <Box as="ul" listStyleType="none" borderTopWidth="1px" borderColor="line" aria-label="Captures">
      {captures.map((capture) => (
        <Grid
          as="li"
          key={capture.id}
          data-testid="capture"
          templateColumns={{ base: "minmax(0, 1fr)", md: "minmax(0, 1.2fr) minmax(0, 1fr) auto" }}
          columnGap="5"
          rowGap="1"
          py="3"
          px="1"
          borderBottomWidth="1px"
          borderColor="line"
        >
          <Box minW="0">
            <Text fontWeight="600" fontSize="16px" color={isMeasured(capture) ? "petrol" : "ink"} overflowWrap="anywhere" lineClamp={3}>
              {isMeasured(capture) ? <Link to={`/jobs/${jobId}/phase?capture=${capture.id}`}>{nameOf(capture)}</Link> : nameOf(capture)}
            </Text>
            <Rename jobId={jobId} capture={capture} />
            {capture.cut_off && (
              <Text color="late" fontSize="13px">
                cut off {capture.cut_off}
              </Text>
            )}
          </Box>
          <Box minW="0" fontSize="13.5px">
            <Text>{stateOf(capture)}</Text>
            <Text color="mute" overflowWrap="anywhere">
              {capture.channels.join(", ")}
            </Text>
            <Text color="mute">
              {capture.duration_s.toFixed(1)} s at {(capture.sample_rate_hz / 1000).toFixed(0)} kS/s, added{" "}
              {new Date(capture.created_at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" })}
            </Text>
          </Box>
          <Flex gap="2" align="start" wrap="wrap">
            {!capture.unreadable && (
              <QuietButton onClick={() => onOpen(capture.id)} aria-label={`Signals and channels of ${capture.name}`}>
                Channels
              </QuietButton>
            )}
            <QuietButton asChild>
              <a href={apiPath(`/api/captures/${capture.id}/files/data`)} download aria-label={`Original file of ${capture.name}`}>
                Original
              </a>
            </QuietButton>
            <QuietButton onClick={() => onTakeOut(capture)} aria-label={`Take out ${capture.name}`}>
              Take out
            </QuietButton>
          </Flex>
        </Grid>
      ))}
    </Box>
  );
}

function nameOf(capture: Capture): string {
  return capture.title || capture.name;
}

function isMeasured(capture: Capture): boolean {
  return capture.confirmed && !capture.unreadable;
}

function stateOf(capture: Capture): string {
  if (capture.unreadable) return `cannot be read, not measured: ${capture.unreadable}`;
  return capture.confirmed ? stateWords(capture) : "channels not confirmed: not measured";
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
          <Text color="mute" fontSize="13px">
            {capture.name}
          </Text>
        )}
        <button type="button" onClick={() => setEditing(true)} aria-label={`Rename ${capture.title || capture.name}`} style={{ fontSize: 13, textDecoration: "underline", minHeight: 24 }}>
          rename
        </button>
      </Flex>
    );
  return (
    <SmallForm saving={keep}>
      <PlainInput aria-label={`Name of ${capture.name}`} autoFocus placeholder={capture.name} width={180} wrong={keep.isError} maxLength={120} value={title} onChange={(event) => setTitle(event.target.value)} />
    </SmallForm>
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
