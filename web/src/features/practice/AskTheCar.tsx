/** A thing to look at on a practice car: one does it, and the car answers. */
import { Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { Choice, ErrorNote, QuietButton } from "../../ui";
import { attemptQuery } from "./queries";

type Props = {
  jobId: number;
  question: Schemas["QuestionOut"];
  noted: Schemas["NotedLook"][];
  cylinders: number[];
  cylinder: number | null;
  onCylinder: (cylinder: number) => void;
};

export function AskTheCar({ jobId, question, noted, cylinders, cylinder, onCylinder }: Props) {
  const changes = useChanges();
  const attempt = useQuery(attemptQuery(jobId));
  const asked = question.per_cylinder ? (cylinder ?? cylinders[0] ?? 1) : null;
  const look = useMutation({
    mutationFn: () =>
      taken(
        client.POST("/api/practice/jobs/{job_id}/looks", {
          params: { path: { job_id: jobId } },
          body: { question: question.id, cylinder: asked },
        }),
      ),
    onSuccess: () => changes.looksChanged(jobId),
  });
  const own = noted.find((one) => one.cylinder === asked);
  return (
    <Flex gap="3" wrap="wrap" align="center">
      {question.per_cylinder && (
        <Choice
          label="Cylinder"
          options={cylinders.map((c) => ({ value: String(c), text: String(c) }))}
          value={String(asked)}
          onPick={(c) => onCylinder(Number(c))}
        />
      )}
      {own ? (
        <Text fontWeight="650" data-testid="answer">
          {own.answer}
        </Text>
      ) : (
        <QuietButton
          h="36px"
          loading={look.isPending}
          disabled={attempt.data?.ended_at != null}
          onClick={() => look.mutate()}
          aria-label={`Do it: ${question.title}${asked === null ? "" : `, cylinder ${String(asked)}`}`}
        >
          Do it
        </QuietButton>
      )}
      {look.isError && <ErrorNote error={look.error} onClose={() => look.reset()} />}
    </Flex>
  );
}
