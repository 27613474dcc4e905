import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import { takenOutQuery } from "../../api/queries";
import { ErrorNote, QuietButton } from "../../ui";

type Props = { jobId: number; newest: number | null; onBack: (id: number) => void };

/** The captures that were taken out of this job, whenever that was, each with its way back; nothing is shown while there
 * are none. The focus goes to the one that went just now. */
export function OutOfJob({ jobId, newest, onBack }: Props) {
  const out = useQuery(takenOutQuery);
  const list = useRef<HTMLDivElement>(null);
  const own = out.data?.captures.filter((capture) => capture.job_id === jobId) ?? [];
  const there = own.some((capture) => capture.id === newest);
  useEffect(() => {
    if (there) list.current?.querySelector<HTMLElement>(`[data-capture="${String(newest)}"]`)?.focus();
  }, [there, newest]);
  if (out.isError) return <ErrorNote error={out.error} onRetry={() => void out.refetch()} />;
  if (!own.length) return null;
  return (
    <Box ref={list} mt="5" data-testid="out-of-job">
      <Text as="h2" fontSize="16px" fontWeight="650">
        Taken out
      </Text>
      <Text color="mute" fontSize="13px" role="status">
        Not measured and not counted. Samples, channels and marks are kept.
      </Text>
      <Box as="ul" listStyleType="none">
        {own.map((capture) => (
          <Flex as="li" key={capture.id} gap="3" align="center" borderTopWidth="1px" borderColor="line" py="1.5">
            <Text flex="1" minW="0" overflowWrap="anywhere">
              {capture.name.replace(/\.capture\.json$/, "")}
            </Text>
            <QuietButton
              data-capture={capture.id}
              onClick={() => onBack(capture.id)}
              aria-label={`Bring it back: ${capture.name}`}
              {...(capture.id === newest ? { hint: "U" } : {})}
            >
              Bring it back
            </QuietButton>
          </Flex>
        ))}
      </Box>
    </Box>
  );
}
