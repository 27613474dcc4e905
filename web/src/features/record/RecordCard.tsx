/** Before the start: what the plan will record, what is still to tick, and the button. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { analysisQuery, hookUpQuery } from "../../api/queries";
import { ActionButton, Choice, ErrorNote, QuietButton, useKeys, Waiting } from "../../ui";
import { StateRow } from "./StateRow";
import type { Said } from "./words";

const NOTHING_SAID: Said = { phasers: "unknown", temperature: "unknown", throttle: "unknown", symptom: "unknown" };

export function RecordCard({ jobId }: { jobId: number }) {
  const page = useQuery(hookUpQuery(jobId));
  const analysis = useQuery(analysisQuery(jobId));
  const changes = useChanges();
  const [round, setRound] = useState(0);
  const [said, setSaid] = useState<Said>(NOTHING_SAID);
  const start = useMutation({
    mutationFn: (beside: boolean) =>
      taken(client.POST("/api/jobs/{job_id}/recording", { params: { path: { job_id: jobId } }, body: { round, said, beside, name: "" } })),
    onSuccess: () => changes.recordingChanged(jobId),
  });
  const plan = page.data;
  const open = plan?.cautions.filter((one) => !one.ticked) ?? [];
  const turns = plan?.question.turns ?? "bench";
  const stop = (analysis.data?.analysis.verdict.cautions.includes("stop_cranking") ?? false) && turns !== "bench";
  const planned = plan !== undefined && plan.hook_up.question !== "";
  const ready = planned && open.length === 0 && !stop && !start.isPending;
  const record = () => ready && start.mutate(turns === "bench");
  useKeys({ " ": record, s: () => document.querySelector<HTMLElement>("[data-state-row] select")?.focus() });
  if (page.isError) return <ErrorNote error={page.error} />;
  if (!plan) return <Waiting>Reading the hook-up</Waiting>;
  const at = Math.min(round, plan.rounds.length - 1);
  return (
    <Box borderWidth="1px" borderColor="line" rounded="md" bg="panel" px="4" py="3" mb="4" data-testid="record-card">
      <Flex gap="4" align="center" wrap="wrap">
        <ActionButton onClick={record} disabled={!ready} h="52px" fontSize="18px" loading={start.isPending}>
          ● Record
          <Box as="span" fontWeight="400" fontSize="14px" ml="2" aria-hidden="true">
            Space
          </Box>
        </ActionButton>
        <Box flex="1 1 300px">
          <Text fontWeight="650">
            {planned ? `${plan.question.short}: ${plan.rounds[at]?.map((lead) => lead.name.toLowerCase()).join(", ") ?? ""}` : "No hook-up is planned yet"}
          </Text>
          <Text fontSize="13px" role="status" data-testid="record-missing">
            {!planned
              ? "Plan it first: it says what goes where, how fast, and what to mind."
              : stop
                ? "Stop cranking: look at the marks before it is turned again."
                : open.length > 0
                  ? `Still to tick: ${open[0]?.text ?? ""}${open.length > 1 ? `, and ${String(open.length - 1)} more` : ""}.`
                  : `Simulated scope, ${String(plan.recording.rate_hz / 1000)} kS/s. ${plan.recording.trigger}`}
          </Text>
        </Box>
        <QuietButton asChild>
          <Link to={`/jobs/${String(jobId)}/hook-up`}>{planned ? "The hook-up" : "Plan the hook-up"}</Link>
        </QuietButton>
      </Flex>
      {plan.rounds.length > 1 && (
        <Box mt="2">
          <Choice label="Round" options={plan.rounds.map((_, i) => ({ value: String(i), text: String(i + 1) }))} value={String(at)} onPick={(one) => setRound(Number(one))} />
        </Box>
      )}
      {planned && <StateRow said={said} onSay={setSaid} />}
      {start.error && (
        <Box mt="2">
          <ErrorNote error={start.error} onClose={start.reset} />
        </Box>
      )}
    </Box>
  );
}
