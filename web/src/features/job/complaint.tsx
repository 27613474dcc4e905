/** Complaint and history: what brought the car in. */
import { Box, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import type { Station } from "../../app/station";
import { ErrorNote, QuietButton } from "../../ui";

export const complaintStation: Station = {
  id: "complaint",
  name: "Complaint",
  component: ComplaintStation,
  note: ({ job }) => ({ done: true, note: [job.complaint, ...job.codes].filter(Boolean).join(", ") || "none noted" }),
  keys: [],
};

function ComplaintStation({ job }: { job: Schemas["JobSummary"] }) {
  const changes = useChanges();
  const navigate = useNavigate();
  const out = useMutation({
    mutationFn: () => taken(client.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } })),
    onSuccess: async () => {
      await navigate("/", { state: { gone: { id: job.id, vehicle: job.vehicle } } });
      await changes.takenOutChanged();
    },
  });
  return (
    <Box>
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" mb="3">
        {job.complaint || "No complaint noted"}
      </Text>
      <Text>
        <Box as="span" color="mute">
          Vehicle{" "}
        </Box>
        {[job.vehicle, job.make_model].filter(Boolean).join(", ")}
      </Text>
      <Text>
        <Box as="span" color="mute">
          Stored codes{" "}
        </Box>
        {job.codes.length ? job.codes.join(", ") : "none noted"}
      </Text>
      <Text>
        <Box as="span" color="mute">
          Engine{" "}
        </Box>
        {job.engine.name}, profile version {job.engine.version}
        {job.interference === true ? ", valves and pistons can meet" : ""}
      </Text>
      <Box mt="6">
        {out.isError && <ErrorNote error={out.error} onClose={() => out.reset()} />}
        {job.removed_at ? (
          <Text color="mute">This job was taken off the board; the Workshop page brings it back.</Text>
        ) : (
          <QuietButton onClick={() => out.mutate()} loading={out.isPending}>
            Take this job off the board
          </QuietButton>
        )}
      </Box>
    </Box>
  );
}
