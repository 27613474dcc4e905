/** The low-pass of each switching signal: off by default, and what it does to the edges when it is on. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { Choice, ErrorNote } from "../../ui";

const CORNERS_HZ = [500, 2000, 8000, 20000];

type Props = { jobId: number; capture: Schemas["ImportedCapture"]; effects: Schemas["FilterResult"][] };

export function FilterPanel({ jobId, capture, effects }: Props) {
  const changes = useChanges();
  const change = useMutation({
    mutationFn: ({ column, hz }: { column: string; hz: number | null }) =>
      taken(
        client.PUT("/api/captures/{capture_id}/channels/{column}/filter", {
          params: { path: { capture_id: capture.id, column }, header: madeFrom(capture.version) },
          body: { filter_hz: hz },
        }),
      ),
    onSuccess: () => changes.captureChanged(jobId, capture.id),
  });
  const corners = CORNERS_HZ.filter((hz) => hz < 0.45 * capture.sample_rate_hz);
  return (
    <Box mb="3" data-testid="filters">
      {capture.switching.map((channel) => {
        const effect = effects.find((e) => e.channel === channel.column);
        return (
          <Box key={channel.column} mb="1.5">
            <Flex gap="3" align="center" wrap="wrap">
              <Choice
                label={`Low-pass, ${channel.name}`}
                options={[
                  { value: "off", text: "Off", disabled: change.isPending },
                  ...corners.map((hz) => ({ value: String(hz), text: hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`, disabled: change.isPending })),
                ]}
                value={channel.filter_hz === null ? "off" : String(channel.filter_hz)}
                onPick={(value) => change.mutate({ column: channel.column, hz: value === "off" ? null : Number(value) })}
              />
              {effect && (
                <Text fontSize="13px" color={effect.harmful ? "late" : "mute"} fontWeight={effect.harmful ? 650 : 400}>
                  moves edges by {effect.moved_usual_deg.toFixed(2)}°, {effect.moved_most_deg.toFixed(2)}° at most
                  {effect.lost_edges > 0 && `, loses ${effect.lost_edges}`}
                  {effect.harmful && ": too much, the measurement is surer than that"}
                </Text>
              )}
            </Flex>
          </Box>
        );
      })}
      {change.isError && <ErrorNote error={change.error} onClose={() => change.reset()} />}
    </Box>
  );
}
