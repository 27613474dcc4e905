/** A lesson: one picture with its rulers, what to do, and the numbers to read. */
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { capturesQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { ActionButton, ErrorNote, numberOf, PlainInput, QuietButton, Waiting } from "../../ui";
import { type Rulers, SignalStrip } from "../signals";
import { lessonQuery } from "./queries";

export function LessonPage() {
  const jobId = Number(useParams().jobId);
  const lesson = useQuery(lessonQuery(jobId));
  const captures = useQuery(capturesQuery(jobId));
  usePutHeader(<Text fontWeight="650">Lesson</Text>, `lesson ${String(jobId)}`, lesson.data?.title ?? "Lesson");
  const [rulers, setRulers] = useState<Rulers | null>(null);
  if (lesson.isPending || captures.isPending)
    return (
      <Box p="8">
        <Waiting>Recording the picture</Waiting>
      </Box>
    );
  if (lesson.isError)
    return (
      <Box p="8">
        <ErrorNote error={lesson.error} onRetry={() => void lesson.refetch()} />
      </Box>
    );
  const capture = captures.data?.find((one) => one.id === lesson.data.capture_id);
  return (
    <Grid as="main" h="full" overflowY="auto" templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 360px" }}>
      <Box px={{ base: "3", md: "5" }} py="4" minW="0">
        <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
          {lesson.data.title}
        </Text>
        {lesson.data.text.map((paragraph) => (
          <Text key={paragraph} mt="2" maxW="820px">
            {paragraph}
          </Text>
        ))}
        <Box mt="4">
          {capture && (
            <SignalStrip
              captureId={capture.id}
              name={capture.name}
              whole={{ from: capture.start_s, to: capture.start_s + capture.duration_s }}
              rulers={rulers}
              onRulers={setRulers}
              places={[]}
              opened
            />
          )}
        </Box>
      </Box>
      <Box as="aside" aria-label="What to read" bg="panel" borderLeftWidth={{ base: "0", lg: "1px" }} borderColor="line" px="4" py="4">
        <Text as="h2" fontSize="16px" fontWeight="680" mb="1">
          With the rulers
        </Text>
        <Box as="ol" pl="5" mb="4" listStyleType="decimal">
          {lesson.data.how.map((step) => (
            <Box as="li" key={step} mb="1">
              {step}
            </Box>
          ))}
        </Box>
        <Questions key={jobId} jobId={jobId} lesson={lesson.data} />
      </Box>
    </Grid>
  );
}

function Questions({ jobId, lesson }: { jobId: number; lesson: Schemas["LessonView"] }) {
  const changes = useChanges();
  const navigate = useNavigate();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const done = lesson.points !== null;
  const read = (id: string) => numberOf(typed[id] ?? "");
  const missing = lesson.asked.filter((one) => read(one.id) === null).length;
  const answer = useMutation({
    mutationFn: () =>
      taken(
        client.POST("/api/practice/jobs/{job_id}/answers", {
          params: { path: { job_id: jobId } },
          body: { answers: Object.fromEntries(lesson.asked.map((one) => [one.id, read(one.id) ?? 0])) },
        }),
      ),
    onSuccess: () => changes.carCalled(jobId),
  });
  const again = useMutation({
    mutationFn: () => taken(client.POST("/api/practice/lessons/{lesson}", { params: { path: { lesson: lesson.lesson } }, body: { person: lesson.person } })),
    onSuccess: (next) => navigate(`/lessons/${String(next.job_id)}`),
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!done && missing === 0) answer.mutate();
      }}
    >
      <Flex direction="column" gap="3">
        {lesson.asked.map((one) => (
          <Box key={one.id} data-testid={`asked-${one.id}`}>
            <label>
              <Text fontWeight="600">{one.words}</Text>
              <Flex gap="2" align="center">
                <PlainInput
                  inputMode="decimal"
                  width={110}
                  wrong={(typed[one.id] ?? "").trim() !== "" && read(one.id) === null}
                  disabled={done}
                  value={done ? String(one.answer ?? "") : (typed[one.id] ?? "")}
                  onChange={(event) => setTyped({ ...typed, [one.id]: event.target.value })}
                />
                <Text>{one.unit}</Text>
              </Flex>
            </label>
            {one.said && (
              <Text fontWeight={one.right ? "400" : "650"} color={one.right ? "ink" : "late"} role="status">
                {one.said}
              </Text>
            )}
          </Box>
        ))}
        {answer.isError && <ErrorNote error={answer.error} onClose={() => answer.reset()} />}
        {again.isError && <ErrorNote error={again.error} onClose={() => again.reset()} />}
        {!done && (
          <ActionButton type="submit" disabled={missing > 0} loading={answer.isPending}>
            {missing > 0 ? `Still to read: ${String(missing)}` : "Mark it"}
          </ActionButton>
        )}
        {done && (
          <>
            <Text fontSize="30px" fontWeight="720" data-testid="points">
              {Math.round(lesson.points ?? 0)} of 100
            </Text>
            <Text>{lesson.after}</Text>
            <Text color="mute">The trap: {lesson.trap}</Text>
            <Flex gap="2" wrap="wrap">
              <ActionButton type="button" loading={again.isPending} onClick={() => again.mutate()}>
                Another picture
              </ActionButton>
              <QuietButton type="button" h="40px" onClick={() => void navigate("/")}>
                To practice
              </QuietButton>
            </Flex>
          </>
        )}
      </Flex>
    </form>
  );
}
