/** Breathing on the road: a scan tool's logs, judged by load, volumetric efficiency and trims. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { apiPath } from "../../api/base";
import { useChanges } from "../../api/changes";
import { apiError, client, type Schemas, taken, unreachable } from "../../api/client";
import { roadTestsQuery } from "../../api/queries";
import { ErrorNote, FileButton, QuietButton, TakenOutNote, useTakingOut, Waiting } from "../../ui";
import { RoadCurves } from "./RoadCurves";
import { figures } from "./words";

type View = Schemas["RoadTestView"];

export function RoadTests({ jobId }: { jobId: number }) {
  const tests = useQuery(roadTestsQuery(jobId));
  const changes = useChanges();
  const refresh = () => changes.looksChanged(jobId);
  const add = useMutation({ mutationFn: (file: File) => sendLog(jobId, file), onSuccess: refresh });
  const testAt = (test: View) => ({ params: { path: { road_test_id: test.id } } });
  const taking = useTakingOut<View>({
    takeOut: (test) => taken(client.DELETE("/api/road-tests/{road_test_id}", testAt(test))),
    bringBack: (test) => taken(client.POST("/api/road-tests/{road_test_id}/restoration", testAt(test))),
    refresh,
  });
  const failure = add.error ?? taking.failure;
  const settle = () => [add.reset, taking.settle].forEach((reset) => reset());
  return (
    <Box as="section" mt="6" pt="4" borderTopWidth="1px" borderColor="line" aria-label="Road test" data-testid="road">
      <Flex gap="4" align="center" wrap="wrap">
        <Text as="h2" fontSize="20px" fontWeight="680">
          On the road
        </Text>
        <FileButton name="Scan tool log" accept=".csv,.txt,text/csv" loading={add.isPending} testId="road-file" onFile={(file) => add.mutate(file)}>
          Add a scan tool log
        </FileButton>
      </Flex>
      <Text fontSize="13.5px" color="mute" maxW="820px">
        Full throttle in a low gear from 1500 rpm on, and some steady part load, with speed, calculated load, air flow,
        manifold pressure, temperatures and trims logged. Only where it is legal and safe, with somebody else watching the
        screen.
      </Text>
      {failure && <ErrorNote error={failure} onClose={settle} />}
      {taking.gone && <TakenOutNote onBack={taking.bringBack}>{taking.gone.result.name} was taken out.</TakenOutNote>}
      {tests.isPending && <Waiting>Reading the logs</Waiting>}
      {tests.isError && <ErrorNote error={tests.error} onRetry={() => void tests.refetch()} />}
      {tests.data?.map((test) => (
        <RoadTest key={test.id} test={test} onRemove={() => taking.takeOut(test)} />
      ))}
    </Box>
  );
}

function RoadTest({ test, onRemove }: { test: View; onRemove: () => void }) {
  const { result } = test;
  return (
    <Box mt="4" data-testid="road-test">
      <Text fontSize="18px" fontWeight="680" maxW="820px">
        {result.text}
      </Text>
      <Flex columnGap="7" rowGap="2" wrap="wrap" my="2">
        {figures(result).map((figure) => (
          <Box key={figure.name}>
            <Text fontSize="24px" fontWeight="720" lineHeight="1.1" whiteSpace="nowrap">
              {figure.value}
            </Text>
            <Text color="mute" fontSize="13px">
              {[figure.name, figure.beside].filter(Boolean).join(", ")}
            </Text>
          </Box>
        ))}
      </Flex>
      <RoadCurves test={test} />
      {[...result.missing, ...result.notes].map((line) => (
        <Text key={line} fontSize="13px" color="mute">
          {line}
        </Text>
      ))}
      <Box asChild fontSize="13px" mt="1">
        <details>
          <summary>Limits and where they come from</summary>
          {result.limits.map((limit) => (
            <Text key={limit.words} color="mute">
              {limit.words} {limit.unit === "" ? `${String(Math.round(100 * limit.value))} %` : `${String(limit.value)} ${limit.unit}`}: {limit.source}
            </Text>
          ))}
        </details>
      </Box>
      <Flex mt="1" gap="3" align="center">
        <Text fontSize="13px" color="mute">
          {result.name}, {result.duration_s.toFixed(0)} s, {result.full_throttle_s.toFixed(0)} s of it at full throttle
        </Text>
        <QuietButton onClick={onRemove} aria-label={`Take out ${result.name}`}>
          Take out
        </QuietButton>
      </Flex>
    </Box>
  );
}

/** The typed client sends no files; the answer and its errors are the same. */
async function sendLog(jobId: number, file: File): Promise<void> {
  const form = new FormData();
  form.append("log", file);
  let answer: Response;
  try {
    answer = await fetch(apiPath(`/api/jobs/${String(jobId)}/road-tests`), { method: "POST", body: form });
  } catch {
    throw unreachable();
  }
  if (!answer.ok) throw apiError(answer.status, await answer.json().catch(() => null));
}
