/** Shows the station that the address names. */
import { Box, Text } from "@chakra-ui/react";
import { Navigate, useOutletContext, useParams } from "react-router";

import { EmptyNote } from "../../ui";
import { CallStation } from "../case";
import { CapturesStation } from "../captures";
import { LookStation } from "../look";
import { PhaseStation } from "../phase";
import { SealStation } from "../seal";
import type { JobContext } from "./JobPage";
import { STATIONS } from "./stations";

export function StationPage() {
  const { station: id } = useParams();
  const { job } = useOutletContext<JobContext>();
  const station = STATIONS.find((s) => s.id === id);
  if (!station) return <Navigate to={`/jobs/${job.id}/phase`} replace />;
  switch (station.id) {
    case "complaint":
      return <ComplaintStation job={job} />;
    case "look":
      return <LookStation jobId={job.id} />;
    case "captures":
      return <CapturesStation jobId={job.id} />;
    case "seal":
      return <SealStation jobId={job.id} />;
    case "phase":
      return <PhaseStation jobId={job.id} />;
    case "call":
      return <CallStation jobId={job.id} />;
    default:
      return (
        <>
          <Text as="h1" fontSize="30px" fontWeight="720" mb="4">
            {station.name}
          </Text>
          <EmptyNote title="This station is not built yet">
            It will hold {station.about}. Nothing is measured or recorded here, and the call does not count it.
          </EmptyNote>
        </>
      );
  }
}

function ComplaintStation({ job }: JobContext) {
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
    </Box>
  );
}
