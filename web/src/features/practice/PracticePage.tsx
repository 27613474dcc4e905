/** Practice: take the next car of a class, and see how one gets better. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { client, type Schemas, taken } from "../../api/client";
import { usePutHeader } from "../../app/header";
import { ActionButton, ErrorNote, Labelled, PanelTitle, PlainInput, QuietButton, QuietTable, useKeys, Waiting } from "../../ui";
import { CurvePlot } from "./CurvePlot";
import { Lessons } from "./Lessons";
import { setLearner, useLearner } from "./learner";
import { practiceQuery } from "./queries";
import { pointsWords } from "./words";

export function PracticePage() {
  const { person, className } = useLearner();
  const navigate = useNavigate();
  const home = useQuery(practiceQuery(person, className));
  usePutHeader(<Text fontWeight="650">Practice</Text>, "practice", "Practice");
  const begin = useMutation({
    mutationFn: (number: number) =>
      taken(client.POST("/api/practice/cars", { body: { person, class_name: className, number } })),
    onSuccess: (attempt) => navigate(`/jobs/${String(attempt.job_id)}/complaint`),
  });
  const known = person !== "" && className !== "";
  const next = home.data?.next_number ?? 1;
  useKeys({ n: () => known && begin.mutate(next), f: () => void navigate("/bench") });
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Flex align="end" justify="space-between" mb="4" gap="4" wrap="wrap">
        <Box maxW="720px">
          <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15">
            Practice
          </Text>
          <Text color="mute">
            Cars with a hidden fault. You choose what to look at, record and drive; the clock runs, and the call is yours. Nothing here touches the
            workshop&apos;s jobs.
          </Text>
        </Box>
        <Flex gap="2" align="center" wrap="wrap">
          <QuietButton h="40px" fontSize="15px" hint="F" onClick={() => void navigate("/bench")}>
            Free bench
          </QuietButton>
          <ActionButton disabled={!known} loading={begin.isPending} onClick={() => begin.mutate(next)}>
            {known ? `Take car ${String(next)}` : "Say who and which class"}
          </ActionButton>
        </Flex>
      </Flex>
      {begin.isError && <ErrorNote error={begin.error} onClose={() => begin.reset()} />}
      <Who />
      {known && home.isPending && <Waiting>Reading what you have done</Waiting>}
      {home.isError && <ErrorNote error={home.error} onRetry={() => void home.refetch()} />}
      {known && home.data && <Done home={home.data} className={className} />}
      <Lessons person={person} attempts={home.data?.attempts ?? []} />
    </Box>
  );
}

function Who() {
  const learner = useLearner();
  const [typed, setTyped] = useState(learner);
  const keep = () => setLearner({ person: typed.person.trim(), className: typed.className.trim() });
  return (
    <Box asChild mb="4">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <Flex gap="4" wrap="wrap" align="end">
          <Labelled label="Who practises">
            <PlainInput wrong={false} width={220} maxLength={60} value={typed.person} onChange={(event) => setTyped({ ...typed, person: event.target.value })} onBlur={keep} />
          </Labelled>
          <Labelled label="Class: whoever types the same gets the same cars">
            <PlainInput wrong={false} width={220} maxLength={60} value={typed.className} onChange={(event) => setTyped({ ...typed, className: event.target.value })} onBlur={keep} />
          </Labelled>
          <input type="submit" hidden />
        </Flex>
      </form>
    </Box>
  );
}

function Done({ home, className }: { home: Schemas["PracticeHome"]; className: string }) {
  const cars = home.attempts.filter((one) => one.kind !== "lesson");
  if (!cars.length)
    return <Text>No car was taken yet. The first one takes about half an hour; stop whenever you like, it waits for you.</Text>;
  return (
    <>
      {home.curve.length > 1 && <CurvePlot curve={home.curve} />}
      <PanelTitle>By topic</PanelTitle>
      <QuietTable folds label="Points by topic" heads={["Topic", "Cars", "Points of 100"]}>
        {home.topics.map((one) => (
          <Table.Row key={one.topic}>
            <Table.Cell>{one.title}</Table.Cell>
            <Table.Cell>{one.attempts || "none yet"}</Table.Cell>
            <Table.Cell fontVariantNumeric="tabular-nums">{one.mean === null ? "" : `${pointsWords(one.mean)}${one.u95 === null ? "" : ` ± ${pointsWords(one.u95)}`}`}</Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
      <PanelTitle
        note={
          <a href={`/api/practice/sheet?class_name=${encodeURIComponent(className)}`} download>
            <Box as="span" textDecoration="underline">
              results of the class as CSV
            </Box>
          </a>
        }
      >
        Your cars
      </PanelTitle>
      <Box as="ul" listStyleType="none" borderTopWidth="1px" borderColor="line" data-testid="attempts">
        {cars.map((one) => (
          <Box as="li" key={one.job_id} borderBottomWidth="1px" borderColor="line">
            <Link to={`/jobs/${String(one.job_id)}/${one.ended_at === null ? "complaint" : "call"}`}>
              <Flex gap="4" py="2" minH="44px" align="center" _hover={{ bg: "soft" }}>
                <Text fontWeight="650" flex="1" minW="0">
                  {one.title}
                </Text>
                <Text color="mute" flex="none">
                  {one.class_name ? `${one.class_name}, car ${String(one.number)}` : "made by hand"}
                </Text>
                <Text w="150px" textAlign="end" flex="none" fontVariantNumeric="tabular-nums">
                  {one.points === null ? "go on" : `${pointsWords(one.points)} points`}
                </Text>
              </Flex>
            </Link>
          </Box>
        ))}
      </Box>
    </>
  );
}
