/** The learner's call: what it is, how sure, covers off or on. After it the truth. */
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, Choice, ErrorNote, OnOff, Waiting } from "../../ui";
import { attemptQuery } from "./queries";
import { Truth } from "./Truth";
import { sureWords } from "./words";

export function YourCall({ jobId }: { jobId: number }) {
  const attempt = useQuery(attemptQuery(jobId));
  if (attempt.isPending) return <Waiting>Reading the clock</Waiting>;
  if (attempt.isError) return <ErrorNote error={attempt.error} onRetry={() => void attempt.refetch()} />;
  if (attempt.data.ended_at !== null) return <Truth jobId={jobId} />;
  return <CallForm jobId={jobId} attempt={attempt.data} />;
}

type Covers = "off" | "on";

function CallForm({ jobId, attempt }: { jobId: number; attempt: Schemas["AttemptView"] }) {
  const changes = useChanges();
  const [fault, setFault] = useState<Schemas["Choice"]["fault"] | null>(null);
  const [sure, setSure] = useState(50);
  const [covers, setCovers] = useState<Covers | null>(null);
  const call = useMutation({
    mutationFn: (body: Schemas["CallAsked"]) =>
      taken(client.POST("/api/practice/jobs/{job_id}/call", { params: { path: { job_id: jobId } }, body })),
    onSuccess: () => changes.carCalled(jobId),
  });
  const missing = fault === null ? "Say what it is" : covers === null ? "Say whether the covers come off" : null;
  return (
    <Box maxW="820px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        Your call
      </Text>
      <Text color="mute" mb="3">
        Being sure and wrong costs more than being unsure. Taking down for nothing and driving on with a drive that has jumped cost most.
      </Text>
      <Text as="h2" fontWeight="650" mb="1.5" id="what-it-is">
        What is it?
      </Text>
      <Flex role="group" aria-labelledby="what-it-is" gap="2" wrap="wrap" mb="4">
        {attempt.choices.map((choice) => (
          <OnOff key={choice.fault} on={fault === choice.fault} h="40px" fontSize="14px" onClick={() => setFault(choice.fault)}>
            {choice.title}
          </OnOff>
        ))}
      </Flex>
      <Box mb="4" fontSize="15px">
        <label>
          <Text fontWeight="650">
            How sure? {sure} in 100, {sureWords(sure / 100)}
          </Text>
          <chakra.input
            type="range"
            min="5"
            max="100"
            step="5"
            value={sure}
            onChange={(event) => setSure(Number(event.target.value))}
            w="full"
            maxW="480px"
            h="40px"
            accentColor="petrol"
            aria-valuetext={`${String(sure)} in 100, ${sureWords(sure / 100)}`}
            data-testid="sure"
          />
        </label>
      </Box>
      <Box mb="4">
        <Choice
          label="Covers"
          options={[
            { value: "off", text: "Take them off" },
            { value: "on", text: "Leave them on" },
          ]}
          value={covers ?? ("" as Covers)}
          onPick={setCovers}
        />
      </Box>
      {call.isError && <ErrorNote error={call.error} onClose={() => call.reset()} />}
      {call.isPending && <Waiting>Testing the car all the cheaper ways, for comparison</Waiting>}
      <ActionButton
        disabled={missing !== null}
        loading={call.isPending}
        onClick={() => {
          if (fault !== null && covers !== null) call.mutate({ fault, sure: sure / 100, covers });
        }}
      >
        {missing ?? "Call it"}
      </ActionButton>
    </Box>
  );
}
