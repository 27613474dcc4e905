/** Vehicle, make, engine and distance in one line; the name can be changed, and the job taken off the board. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import type { Told } from "../../api/told";
import { ErrorNote, PlainInput, QuietButton, SmallForm } from "../../ui";

type Props = { job: Schemas["JobSummary"]; told: Told };

export function VehicleLine({ job, told }: Props) {
  const changes = useChanges();
  const navigate = useNavigate();
  const [editing, setEditing] = useState(false);
  const out = useMutation({
    mutationFn: () => taken(client.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } })),
    onSuccess: async () => {
      await navigate("/", { state: { gone: { id: job.id, vehicle: job.vehicle } } });
      await changes.takenOutChanged();
    },
  });
  const far = told.complaint?.distance_km;
  const built = told.complaint?.built_year;
  return (
    <Box mb="1">
      <Flex gap="3" wrap="wrap" align="center">
        <Text color="mute">
          {[
            [job.vehicle, job.make_model].filter(Boolean).join(", "),
            job.engine.name,
            far === null || far === undefined ? "" : `${far.toLocaleString("en-GB").replaceAll(",", " ")} km`,
            built ? `built in ${String(built)}` : "",
            job.interference === true ? "valves and pistons can meet" : "",
          ]
            .filter(Boolean)
            .join(" · ")}
        </Text>
        <QuietButton onClick={() => setEditing(!editing)} aria-expanded={editing}>
          Change the vehicle
        </QuietButton>
        <QuietButton asChild>
          <Link to={`/jobs/${String(job.id)}/vehicle`}>All its jobs</Link>
        </QuietButton>
        {!job.removed_at && (
          <QuietButton onClick={() => out.mutate()} loading={out.isPending}>
            Take this job off the board
          </QuietButton>
        )}
      </Flex>
      {out.isError && <ErrorNote error={out.error} onClose={() => out.reset()} />}
      {editing && <VehicleForm job={job} onDone={() => setEditing(false)} />}
    </Box>
  );
}

function VehicleForm({ job, onDone }: { job: Schemas["JobSummary"]; onDone: () => void }) {
  const changes = useChanges();
  const [vehicle, setVehicle] = useState(job.vehicle);
  const [make, setMake] = useState(job.make_model);
  const keep = useMutation({
    mutationFn: () =>
      taken(client.PUT("/api/jobs/{job_id}/vehicle", { params: { path: { job_id: job.id } }, body: { vehicle, make_model: make } })),
    onSuccess: async () => {
      await changes.toldChanged(job.id);
      onDone();
    },
  });
  return (
    <SmallForm saving={keep} disabled={!vehicle.trim()}>
      <PlainInput aria-label="Vehicle" placeholder="Vehicle" autoFocus width={200} wrong={!vehicle.trim()} maxLength={200} value={vehicle} onChange={(e) => setVehicle(e.target.value)} />
      <PlainInput aria-label="Make and model" placeholder="Make and model" width={240} wrong={false} maxLength={200} value={make} onChange={(e) => setMake(e.target.value)} />
    </SmallForm>
  );
}
