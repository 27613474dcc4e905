import { Box } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { useNavigate } from "react-router";

import { apiError, type Schemas } from "../../api/client";
import { ErrorNote, QuietButton } from "../../ui";

/** A colleague's bundle as a job of its own. */
export function OpenBundle() {
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
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
      await queries.invalidateQueries({ queryKey: ["board"] });
      await navigate(`/jobs/${String(job.id)}/captures`);
    },
  });
  return (
    <Box>
      <QuietButton h="40px" loading={open.isPending} onClick={() => input.current?.click()}>
        Open a bundle
      </QuietButton>
      <input
        ref={input}
        type="file"
        accept=".zip"
        hidden
        aria-label="Bundle"
        data-testid="bundle-file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) open.mutate(file);
        }}
      />
      {open.isError && <ErrorNote error={open.error} onClose={() => open.reset()} />}
    </Box>
  );
}
