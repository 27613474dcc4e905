/** Oil: the same look as at Look and listen, asked here too, since it belongs to the history. */
import { useMutation, useQuery } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { looksQuery } from "../../api/queries";
import { Choice, ErrorNote } from "../../ui";

export function OilRow({ jobId }: { jobId: number }) {
  const changes = useChanges();
  const looks = useQuery(looksQuery(jobId));
  const note = useMutation({
    mutationFn: (answer: string) =>
      taken(
        client.POST("/api/jobs/{job_id}/looks", {
          params: { path: { job_id: jobId } },
          body: { question: "oil", answer, crank_at: "mark", note: "" },
        }),
      ),
    onSuccess: () => changes.looksChanged(jobId),
  });
  const asked = looks.data?.questions.find((one) => one.id === "oil");
  if (!asked) return null;
  const held = looks.data?.noted.find((one) => one.question === "oil")?.answer_id ?? "";
  return (
    <>
      <Choice label="Oil" options={asked.answers.map((one) => ({ value: one.id, text: one.title }))} value={held} onPick={(answer) => note.mutate(answer)} />
      {note.error && <ErrorNote error={note.error} onClose={note.reset} />}
    </>
  );
}
