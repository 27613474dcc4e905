import { Box } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { useChanges } from "../../api/changes";
import { apiError, type Schemas } from "../../api/client";
import { ErrorNote, FileButton } from "../../ui";

/** A capture that a colleague exported, as a job of its own. */
export function OpenBundle() {
  const changes = useChanges();
  const navigate = useNavigate();
  const open = useMutation({
    mutationFn: async (file: File) => {
      const form = new FormData();
      form.append("bundle", file);
      const answer = await fetch("/api/bundles", { method: "POST", body: form });
      const body: unknown = await answer.json().catch(() => null);
      if (!answer.ok) throw apiError(answer.status, body);
      return body as Schemas["JobSummary"];
    },
    onSuccess: async (job) => {
      await changes.jobOpened();
      await navigate(`/jobs/${String(job.id)}/captures`);
    },
  });
  return (
    <Box>
      <FileButton name="Export of a colleague" accept=".zip" testId="bundle-file" loading={open.isPending} onFile={(file) => open.mutate(file)}>
        Open an export
      </FileButton>
      {open.isError && <ErrorNote error={open.error} onClose={() => open.reset()} />}
    </Box>
  );
}
