/** The firing order as captures with a cylinder taken out on purpose tell it; nothing without such a capture. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { firingOrderQuery } from "../../api/queries";
import { ErrorNote, QuietButton } from "../../ui";

export function FiringOrder({ jobId }: { jobId: number }) {
  const order = useQuery(firingOrderQuery(jobId));
  const changes = useChanges();
  const save = useMutation({
    mutationFn: () => taken(client.POST("/api/jobs/{job_id}/firing-order", { params: { path: { job_id: jobId } } })),
    onSuccess: changes.engineOfJobChanged,
  });
  if (!order.data || order.data.captures === 0) return null;
  const { data } = order;
  const differs = data.contradicts ? "; the profile has another" : data.complete ? ", as in the profile" : "";
  return (
    <Box mt="4" data-testid="firing-order">
      <Flex gap="3" align="center" wrap="wrap">
        <Text>
          Firing order from cylinders taken out:{" "}
          <Box as="span" fontWeight="720" fontSize="18px">
            {data.order.map((c) => (c === null ? "?" : String(c))).join(" – ")}
          </Box>
          {differs} ({data.profile_order.join(" – ")})
        </Text>
        {data.contradicts && data.complete && (
          <QuietButton loading={save.isPending} onClick={() => save.mutate()}>
            Save it in the profile
          </QuietButton>
        )}
      </Flex>
      {data.conflicts.map((words) => (
        <Text key={words} color="late" fontSize="13.5px">
          {words}
        </Text>
      ))}
      {save.isError && <ErrorNote error={save.error} onClose={() => save.reset()} />}
    </Box>
  );
}
