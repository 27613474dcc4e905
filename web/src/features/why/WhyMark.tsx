/** A small question mark beside a number that judges: formula, parts, source, and the cycles it came from. */
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useParams } from "react-router";

import { PRACTISING } from "../../api/base";
import type { Schemas } from "../../api/client";
import { whyQuery } from "../../api/queries";
import { ErrorNote, Sheet, Waiting } from "../../ui";

type Props = { id: string; about: string };

/** Of a practice car nothing is told that would give the call away. */
export function WhyMark(props: Props) {
  return PRACTISING ? null : <Mark {...props} />;
}

function Mark({ id, about }: Props) {
  const jobId = Number(useParams().jobId);
  const [open, setOpen] = useState(false);
  const mark = useRef<HTMLButtonElement>(null);
  const close = () => {
    setOpen(false);
    requestAnimationFrame(() => mark.current?.focus());
  };
  return (
    <>
      <chakra.button
        ref={mark}
        type="button"
        aria-label={`Why is this? ${about}`}
        title="Why is this?"
        onClick={() => setOpen(true)}
        display="inline-flex"
        alignItems="center"
        justifyContent="center"
        w="24px"
        h="24px"
        ml="1"
        verticalAlign="middle"
        rounded="full"
        borderWidth="1px"
        borderColor="edge"
        color="ink"
        fontSize="13px"
        fontWeight="700"
        lineHeight="1"
        flex="none"
        _hover={{ bg: "soft" }}
        data-why={id}
        className="no-print"
      >
        ?
      </chakra.button>
      {open && <WhySheet jobId={jobId} id={id} about={about} onClose={close} />}
    </>
  );
}

function WhySheet({ jobId, id, about, onClose }: Props & { jobId: number; onClose: () => void }) {
  const all = useQuery(whyQuery(jobId));
  const why = all.data?.find((one) => one.id === id);
  return (
    <Sheet title={why?.title ?? about} open onClose={onClose}>
      {all.isPending && <Waiting>Reading where it comes from</Waiting>}
      {all.isError && <ErrorNote error={all.error} onRetry={() => void all.refetch()} />}
      {all.data && !why && <Text>Nothing was measured that this rests on.</Text>}
      {why && <Reasons why={why} />}
    </Sheet>
  );
}

function Reasons({ why }: { why: Schemas["Why"] }) {
  const parts = why.parts ?? [];
  const cycles = why.cycles ?? [];
  return (
    <Box data-testid="why">
      <Text fontSize="20px" fontWeight="700">
        {why.value}
      </Text>
      <Text mt="2" bg="soft" rounded="sm" px="3" py="2">
        {why.formula}
      </Text>
      <Box as="dl" mt="3">
        {parts.map((part) => (
          <Flex key={part.name} justify="space-between" gap="4" py="1" borderBottomWidth="1px" borderColor="line" fontSize="14px">
            <dt>{part.name}</dt>
            <Box as="dd" fontWeight="650" textAlign="end" maxW="55%">
              {part.value}
            </Box>
          </Flex>
        ))}
      </Box>
      <Text mt="3" fontSize="14px">
        <b>Taken from:</b> {why.taken_from}
      </Text>
      {cycles.length > 0 && (
        <Text fontSize="13px" color="mute">
          {cycles.map((cycle) => `at ${cycle.time_s.toFixed(2)} s ${cycle.value}`).join(", ")}
        </Text>
      )}
      <Text mt="2" fontSize="14px">
        <b>Source:</b> {why.source}
      </Text>
    </Box>
  );
}
