/** What it was: the learner's call and the machine's after each test beside it, and the cheapest way that was found. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import type { Schemas } from "../../api/client";
import { ActionButton, ErrorNote, PanelTitle, QuietTable, Waiting } from "../../ui";
import { truthQuery } from "./queries";
import { minutesWords, moneyWords, pointsWords } from "./words";

type TruthView = Schemas["TruthView"];

export function Truth({ jobId }: { jobId: number }) {
  const truth = useQuery(truthQuery(jobId));
  const navigate = useNavigate();
  if (truth.isPending) return <Waiting>Asking the machine what it would have called after each test</Waiting>;
  if (truth.isError) return <ErrorNote error={truth.error} onRetry={() => void truth.refetch()} />;
  const it = truth.data;
  const { outcome } = it;
  return (
    <Box maxW="920px" data-testid="truth">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        It was: {it.title}
      </Text>
      <Text>{[it.size, it.where, it.when].filter(Boolean).join("; ")}. The covers {it.covers}.</Text>
      {it.also.length > 0 && <Text color="mute">Right too: {it.also.join(", ")}.</Text>}
      {it.herrings.length > 0 && <Text color="mute">Led nowhere: {it.herrings.join(", ")}.</Text>}
      <PanelTitle>Your call: {it.called}, {Math.round(100 * outcome.call.sure)} in 100, covers {outcome.call.covers}</PanelTitle>
      <Scores truth={it} />
      <PanelTitle>The machine, after each test</PanelTitle>
      {it.machine.length > 0 ? (
        <QuietTable folds label="The machine's call after each test" heads={["After", "It would have called", "Chance", "Covers"]}>
          {it.machine.map((one, i) => (
            <Table.Row key={i}>
              <Table.Cell>{one.after}</Table.Cell>
              <Table.Cell fontWeight={one.right ? "700" : "400"}>
                {one.words}
                {one.right && ", right"}
              </Table.Cell>
              <Table.Cell>{one.chance}</Table.Cell>
              <Table.Cell>{one.gate}</Table.Cell>
            </Table.Row>
          ))}
        </QuietTable>
      ) : null}
      <Text mt="1.5">{it.parted}</Text>
      <PanelTitle>What it cost</PanelTitle>
      <Text>
        Yours: {minutesWords(outcome.minutes)}, {moneyWords(it.money, it.currency)}.{" "}
        {outcome.cheapest.length > 0
          ? `The cheapest way that was found: ${outcome.cheapest.join(", ")}; ${minutesWords(outcome.cheapest_minutes)}, ${moneyWords(it.cheapest_money, it.currency)}.`
          : "No way was found on which the machine's call is right."}
      </Text>
      <Flex mt="4">
        <ActionButton onClick={() => void navigate("/")}>Next car</ActionButton>
      </Flex>
    </Box>
  );
}

function Scores({ truth }: { truth: TruthView }) {
  const { said, decided, spent, points } = truth.outcome;
  const rows = [
    ["What you said", said],
    ["What you decided", decided],
    ["What it cost", spent],
  ] as const;
  return (
    <>
      <Text fontSize="30px" fontWeight="720" data-testid="points">
        {pointsWords(points)} points of 100
      </Text>
      <QuietTable folds label="Points" heads={["", "Points", "Why"]}>
        {rows.map(([name, one]) => (
          <Table.Row key={name}>
            <Table.Cell>{name}</Table.Cell>
            <Table.Cell fontVariantNumeric="tabular-nums">
              {pointsWords(one.points)} of {pointsWords(one.most)}
            </Table.Cell>
            <Table.Cell>{one.words}</Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
    </>
  );
}
