/** Beside a running recording: stop cranking where it is called for, the hook-up, what was ticked. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import type { Schemas } from "../../api/client";
import { hookUpQuery } from "../../api/queries";
import { QuietButton } from "../../ui";

type Props = { jobId: number; view: Schemas["RecordingView"]; onCase: () => void };

export function RecordSide({ jobId, view, onCase }: Props) {
  const page = useQuery(hookUpQuery(jobId));
  const stop = view.live?.stop ?? null;
  return (
    <Box
      as="aside"
      aria-label="Hook-up"
      bg="panel"
      borderColor="line"
      borderLeftWidth={{ base: "0", lg: "1px" }}
      borderTopWidth={{ base: "1px", lg: "0" }}
      gridColumn={{ base: "1", md: "2", lg: "auto" }}
      w={{ base: "auto", lg: "288px" }}
      maxH={{ base: "120px", lg: "none" }}
      overflowY="auto"
      px="4"
      py="3.5"
      data-testid="record-side"
    >
      <Flex justify="space-between" align="center" mb="2" display={{ base: "none", lg: "flex" }}>
        <Text as="h2" fontSize="16px" fontWeight="680">
          Hook-up
        </Text>
        <QuietButton hint="C" onClick={onCase}>
          The case
        </QuietButton>
      </Flex>
      {stop && (
        <Box role="alert" borderWidth="2px" borderColor="late" rounded="md" px="3.5" py="2.5" mb="3" data-testid="live-stop">
          <Text fontSize="30px" fontWeight="720" color="late" lineHeight="1.1">
            Stop cranking
          </Text>
          <Text fontSize="14px">{stop}</Text>
        </Box>
      )}
      <Box display={{ base: "none", lg: "block" }}>
        <Text fontWeight="680" mb="1">
          {view.lanes.length} connected
        </Text>
        {page.data?.rounds[0]?.map((lead, i) => (
          <Flex key={lead.key} gap="2.5" mb="1.5">
            <Text fontWeight="700" w="20px">
              {i + 1}
            </Text>
            <Box>
              <Text fontSize="13.5px" fontWeight="600">
                {lead.name}
              </Text>
              <Text fontSize="13px" color="mute">
                {[lead.probe, lead.wire?.pin ? `pin ${lead.wire.pin}` : "", lead.wire?.colour ?? ""].filter(Boolean).join(", ")}
              </Text>
            </Box>
          </Flex>
        ))}
        <Text fontWeight="680" mt="3" mb="1">
          {page.data?.cautions.filter((one) => one.ticked).length ?? 0} ticked before the start
        </Text>
        {page.data?.cautions.map((one) => (
          <Text key={one.id} fontSize="13px" mb="0.5">
            {one.ticked ? "●" : "○"} {one.text}
          </Text>
        ))}
        <Text fontSize="13px" mt="3" pt="2" borderTopWidth="1px" borderColor="line">
          <b>The case</b> moves when you stop. What is recorded stays if this page is closed.
        </Text>
      </Box>
    </Box>
  );
}
