/** The lessons in the order of the trade, each begun with one press. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { client, type Schemas, taken } from "../../api/client";
import { ErrorNote, PanelTitle, QuietButton, Waiting } from "../../ui";
import { lessonsQuery } from "./queries";

type Props = { person: string; attempts: Schemas["AttemptLine"][] };

export function Lessons({ person, attempts }: Props) {
  const lessons = useQuery(lessonsQuery);
  const navigate = useNavigate();
  const begin = useMutation({
    mutationFn: (lesson: string) => taken(client.POST("/api/practice/lessons/{lesson}", { params: { path: { lesson } }, body: { person } })),
    onSuccess: (view) => navigate(`/lessons/${String(view.job_id)}`),
  });
  return (
    <>
      <PanelTitle note="ten minutes each, one picture read by hand with the rulers">Lessons</PanelTitle>
      {begin.isError && <ErrorNote error={begin.error} onClose={() => begin.reset()} />}
      {lessons.isPending && <Waiting>Reading the lessons</Waiting>}
      {lessons.isError && <ErrorNote error={lessons.error} onRetry={() => void lessons.refetch()} />}
      <Box as="ol" listStyleType="none" borderTopWidth="1px" borderColor="line" data-testid="lessons">
        {lessons.data?.map((one, i) => {
          const own = attempts.filter((attempt) => attempt.kind === "lesson" && attempt.title === one.title && attempt.points !== null);
          const best = own.length ? Math.max(...own.map((attempt) => attempt.points ?? 0)) : null;
          return (
            <Flex as="li" key={one.id} gap="4" align="center" borderBottomWidth="1px" borderColor="line" py="1.5" wrap={{ base: "wrap", md: "nowrap" }}>
              <Text flex="1" minW="0">
                <Box as="span" color="mute" mr="2">
                  {i + 1}
                </Box>
                <b>{one.title}</b> <Box as="span" color="mute">{one.trap}</Box>
              </Text>
              <Text color="mute" flex="none" w="110px" textAlign="end">
                {best === null ? "not done yet" : `best ${String(Math.round(best))}`}
              </Text>
              <QuietButton
                h="36px"
                flex="none"
                disabled={person === ""}
                loading={begin.isPending && begin.variables === one.id}
                onClick={() => begin.mutate(one.id)}
                aria-label={`Begin: ${one.title}`}
              >
                Begin
              </QuietButton>
            </Flex>
          );
        })}
      </Box>
    </>
  );
}
