/** All jobs of the workshop as open files. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import { apiError, type Schemas, unreachable } from "../../api/client";
import { ErrorNote, FileButton, QuietButton } from "../../ui";

export function Carrying({ lead }: { lead: boolean }) {
  const changes = useChanges();
  const take = useMutation({
    mutationFn: async (file: File) => {
      const form = new FormData();
      form.append("archive", file);
      const answer = await fetch("/api/workshop/import", { method: "POST", body: form }).catch(() => {
        throw unreachable();
      });
      const body: unknown = await answer.json().catch(() => null);
      if (!answer.ok) throw apiError(answer.status, body);
      return body as Schemas["TakenIn"];
    },
    onSuccess: () => changes.jobsTakenIn(),
  });
  return (
    <Box>
      <Flex gap="3" wrap="wrap" align="center">
        {lead && (
          <QuietButton asChild h="40px">
            <a href="/api/workshop/export" download>
              All jobs as one archive
            </a>
          </QuietButton>
        )}
        <FileButton name="Archive of jobs" accept=".zip" testId="archive-file" loading={take.isPending} onFile={(file) => take.mutate(file)}>
          Take an archive in
        </FileButton>
        <Text color="mute" fontSize="13px">
          open files in a zip: captures as they came, job documents, photos, results; none is taken in twice
        </Text>
      </Flex>
      {take.isSuccess && (
        <Text role="status" mt="2" data-testid="taken-in">
          {take.data.job_ids.length === 1 ? "One job" : `${String(take.data.job_ids.length)} jobs`} taken in, {take.data.already} were here already.
        </Text>
      )}
      {take.data?.refused.map((line) => (
        <Text key={line} fontSize="13.5px" color="late">
          Left out: {line}
        </Text>
      ))}
      {take.isError && <ErrorNote error={take.error} onClose={() => take.reset()} />}
    </Box>
  );
}
