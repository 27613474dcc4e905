/** Look and listen: what eyes, ears and hands found, noted in seconds, each with what it weighs. */
import { Box, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { useChanges } from "../../api/changes";
import { PRACTISING } from "../../api/base";
import { client, type Schemas, taken } from "../../api/client";
import { looksQuery } from "../../api/queries";
import { ErrorNote, TakenOutNote, useKeys, useTakingOut, Waiting } from "../../ui";
import { QuestionRow } from "./QuestionRow";
import { countWords, nextAnswer, notedAbout } from "./walk";

type Look = Schemas["Look"];
type Noted = Schemas["NotedLook"];

const GROUPS: Record<string, string> = {
  look: "Look",
  listen: "Listen",
  hand: "By hand",
  gauge: "On a gauge",
  cover: "Behind a light cover",
};

export function LookStation({ jobId }: { jobId: number }) {
  const looks = useQuery(looksQuery(jobId));
  if (looks.isPending) return <Waiting>Reading the notes</Waiting>;
  if (looks.isError) return <ErrorNote error={looks.error} onRetry={() => void looks.refetch()} />;
  return <Looks jobId={jobId} looking={looks.data} />;
}

function Looks({ jobId, looking }: { jobId: number; looking: Schemas["Looking"] }) {
  const changes = useChanges();
  const [at, setAt] = useState(0);
  const [cylinders, setCylinders] = useState<Record<string, number>>({});
  const list = useRef<HTMLDivElement>(null);
  const { questions, noted } = looking;
  const refresh = () => changes.looksChanged(jobId);
  const note = useMutation({
    mutationFn: (body: Look) =>
      taken(client.POST("/api/jobs/{job_id}/looks", { params: { path: { job_id: jobId } }, body })),
    onSuccess: refresh,
  });
  const lookAt = (look: Noted) => ({ params: { path: { look_id: look.id } } });
  const taking = useTakingOut<Noted>({
    takeOut: (look) => taken(client.DELETE("/api/looks/{look_id}", lookAt(look))),
    bringBack: (look) => taken(client.POST("/api/looks/{look_id}/restoration", lookAt(look))),
    refresh,
  });
  const here = questions[at];
  const cylinderOf = (question: Schemas["QuestionOut"]) =>
    question.per_cylinder ? (cylinders[question.id] ?? looking.cylinders[0] ?? 1) : null;
  const pick = (step: 1 | -1) => {
    if (PRACTISING) {
      list.current?.querySelector<HTMLButtonElement>(`[data-question="${here?.id ?? ""}"] button[aria-label^="Do it"]`)?.click();
      return;
    }
    if (!here || here.unit !== null) {
      list.current?.querySelector<HTMLInputElement>(`[data-question="${here?.id ?? ""}"] input`)?.focus();
      return;
    }
    const cylinder = cylinderOf(here);
    const answer = nextAnswer(here, notedAbout(noted, here, cylinder), step);
    if (answer) note.mutate({ question: here.id, answer, cylinder, crank_at: "mark", note: "" });
  };
  const forgetHere = () => {
    const look = here && notedAbout(noted, here, cylinderOf(here));
    if (look) taking.takeOut(look);
  };
  useKeys({
    ArrowDown: () => setAt((i) => Math.min(i + 1, questions.length - 1)),
    ArrowUp: () => setAt((i) => Math.max(i - 1, 0)),
    ArrowRight: () => pick(1),
    ArrowLeft: () => pick(-1),
    Backspace: forgetHere,
    u: taking.bringBack,
  });
  useEffect(() => {
    list.current?.querySelector(`[data-question="${here?.id ?? ""}"]`)?.scrollIntoView({ block: "nearest" });
  }, [here?.id]);
  const failure = note.error ?? taking.failure;
  const settle = () => [note.reset, taking.settle].forEach((reset) => reset());
  return (
    <Box maxW="1020px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {countWords(questions, noted)}
      </Text>
      <Text color="mute" mb="3">
        What is visible is repaired first, then one tests again. Up and down go through the list, right and left give the
        answer, Backspace takes it out.
      </Text>
      <Text fontSize="13.5px" mb="3" maxW="820px">
        Chock the wheels, set the brake, put it in neutral or park. Keep hands, leads and sleeves clear of belts and fans: the engine may
        start. Crank in bursts of ten seconds or less. On hybrids and electric vehicles only qualified people under the maker&apos;s
        isolation procedure. Local rules come first.
      </Text>
      {looking.unreadable > 0 && (
        <Text fontSize="13.5px" mb="3" role="status">
          {looking.unreadable === 1 ? "One note" : `${String(looking.unreadable)} notes`} of an older version cannot be read, and do not
          count.
        </Text>
      )}
      {failure && <ErrorNote error={failure} onClose={settle} />}
      {taking.gone && (
        <TakenOutNote hint="U" onBack={taking.bringBack}>
          {taking.gone.title}: “{taking.gone.answer}” was taken out.
        </TakenOutNote>
      )}
      <Box ref={list} role="group" aria-label="Things to look at">
        {questions.map((question, i) => (
          <Box key={question.id}>
            {question.group !== questions[i - 1]?.group && (
              <Text as="h2" fontSize="13px" color="mute" fontWeight="650" mt={i ? "4" : "0"} mb="1">
                {GROUPS[question.group] ?? question.group}
              </Text>
            )}
            <QuestionRow
              jobId={jobId}
              question={question}
              here={i === at}
              noted={noted.filter((look) => look.question === question.id)}
              cylinders={looking.cylinders}
              cams={looking.cams}
              cylinder={cylinderOf(question)}
              onCylinder={(cylinder) => setCylinders((all) => ({ ...all, [question.id]: cylinder }))}
              onHere={() => setAt(i)}
              onNote={(look) => note.mutate(look)}
              onForget={(look) => taking.takeOut(look)}
            />
          </Box>
        ))}
      </Box>
    </Box>
  );
}
