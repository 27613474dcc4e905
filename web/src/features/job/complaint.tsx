/** Complaint and history: what brought the car in. */
import { Box, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import type { Station } from "../../app/station";

export const complaintStation: Station = {
  id: "complaint",
  name: "Complaint",
  component: ComplaintStation,
  note: ({ job }) => ({ done: true, note: [job.complaint, ...job.codes].filter(Boolean).join(", ") || "none noted" }),
  keys: [],
};

function ComplaintStation({ job }: { job: Schemas["JobSummary"] }) {
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
