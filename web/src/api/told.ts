/** What a person told of a job, and a way to change one part of it: the rest stays as it is stored at that moment. */
import { useMutation, useQuery } from "@tanstack/react-query";

import { useChanges } from "./changes";
import { client, madeFrom, type Schemas, taken } from "./client";
import { documentNow, jobDocumentQuery } from "./queries";

export type Told = Schemas["JobDocument"];
type Change = (told: Told) => Told;

export function useTold(jobId: number) {
  const changes = useChanges();
  const told = useQuery(jobDocumentQuery(jobId));
  const keep = useMutation({
    mutationFn: async (change: Change) => {
      const now = await documentNow(jobId);
      return taken(
        client.PUT("/api/jobs/{job_id}/document", { params: { path: { job_id: jobId }, header: madeFrom(now.version) }, body: change(now.data) }),
      );
    },
    onSuccess: () => changes.toldChanged(jobId),
  });
  return { told: told.data?.data, failure: told.error, keep };
}
