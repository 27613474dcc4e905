import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { takenOutQuery } from "../../api/queries";
import { ErrorNote, QuietButton } from "../../ui";

/** The captures that were taken out of this job, whenever that was; nothing is shown while there are none. */
export function OutOfJob({ jobId }: { jobId: number }) {
  const out = useQuery(takenOutQuery);
  const changes = useChanges();
  const back = useMutation({
    mutationFn: (id: number) => taken(client.POST("/api/captures/{capture_id}/restoration", { params: { path: { capture_id: id } } })),
    onSuccess: () => changes.capturesOfJobChanged(jobId),
  });
  if (out.isError) return <ErrorNote error={out.error} onRetry={() => void out.refetch()} />;
  const own = out.data?.captures.filter((capture) => capture.job_id === jobId) ?? [];
  if (!own.length) return null;
  return (
    <Box mt="5" data-testid="out-of-job">
      <Text as="h2" fontSize="16px" fontWeight="650">
        Taken out
      </Text>
      <Text color="mute" fontSize="13px">
        Not measured and not counted. Samples, channels and marks are kept.
      </Text>
      {back.isError && <ErrorNote error={back.error} onClose={() => back.reset()} />}
      <Box as="ul" listStyleType="none">
        {own.map((capture) => (
          <Flex as="li" key={capture.id} gap="3" align="center" borderTopWidth="1px" borderColor="line" py="1.5">
            <Text flex="1" minW="0" overflowWrap="anywhere">
              {capture.name.replace(/\.capture\.json$/, "")}
            </Text>
            <QuietButton onClick={() => back.mutate(capture.id)} aria-label={`Bring back ${capture.name}`}>
              Bring it back
            </QuietButton>
          </Flex>
        ))}
      </Box>
    </Box>
  );
}
