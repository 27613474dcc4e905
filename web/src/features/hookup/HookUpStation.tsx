/** Hook-up: which channel goes where for a question, how to record it, and the cautions to tick. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { analysisQuery, hookUpQuery } from "../../api/queries";
import { ActionButton, Choice, ErrorNote, PanelTitle, QuietButton, Select, useKeys, Waiting } from "../../ui";
import { BeforeAfterTests } from "./BeforeAfter";
import { CautionTicks } from "./CautionTicks";
import { Guides } from "./Guides";
import { LeadTable } from "./LeadTable";
import { planHeadline, rateWords, recordingWords } from "./words";

export type Page = Schemas["HookUpPage"];
type Channels = "2" | "4" | "8";

export function HookUpStation({ jobId }: { jobId: number }) {
  const [search, setSearch] = useSearchParams();
  const asked = search.get("question");
  const page = useQuery(hookUpQuery(jobId, asked));
  if (page.isPending) return <Waiting>Planning the hook-up</Waiting>;
  if (page.isError) return <ErrorNote error={page.error} onRetry={() => void page.refetch()} />;
  return <HookUp key={page.data.question.id} jobId={jobId} page={page.data} onChosen={() => setSearch({}, { replace: true })} />;
}

type Props = { jobId: number; page: Page; onChosen: () => void };

function HookUp({ jobId, page, onChosen }: Props) {
  const changes = useChanges();
  const navigate = useNavigate();
  const [at, setAt] = useState(0);
  const analysis = useQuery(analysisQuery(jobId));
  const stop = analysis.data?.analysis.verdict.cautions.includes("stop_cranking") ?? false;
  // What is ticked shows at once; what is sent is one after the other, each with all that was chosen so far.
  const [own, setOwn] = useState({ ...page.hook_up, question: page.question.id, channels: page.channels });
  const latest = useRef(own);
  const sent = useMutation({
    scope: { id: `hook-up ${String(jobId)}` },
    mutationFn: (body: Schemas["HookUp"]) => taken(client.PUT("/api/jobs/{job_id}/hook-up", { params: { path: { job_id: jobId } }, body })),
    onSuccess: async () => {
      onChosen();
      await changes.hookUpChanged(jobId);
    },
  });
  const keep = (part: Partial<Schemas["HookUp"]>) => {
    latest.current = { ...latest.current, ...part };
    setOwn(latest.current);
    sent.mutate(latest.current);
  };
  const ask = (question: string) => keep({ question });
  const step = (by: number) => {
    const here = page.questions.findIndex((one) => one.id === page.question.id);
    const next = page.questions[(here + by + page.questions.length) % page.questions.length];
    if (next) ask(next.id);
  };
  const channels = (several: Channels) => keep({ channels: Number(several) as 2 | 4 | 8 });
  const setRange = (signal: string, rangeV: number | null) => {
    const others = Object.fromEntries(Object.entries(latest.current.ranges_v ?? {}).filter(([key]) => key !== signal));
    keep({ ranges_v: rangeV === null ? others : { ...others, [signal]: rangeV } });
  };
  const tick = (id: string) => {
    const ticked = latest.current.ticked ?? [];
    keep({ ticked: ticked.includes(id) ? ticked.filter((one) => one !== id) : [...ticked, id] });
  };
  const cautions = page.cautions.map((one) => ({ ...one, ticked: own.ticked?.includes(one.id) ?? false }));
  const here = cautions[Math.min(at, page.cautions.length - 1)];
  useKeys({
    ArrowRight: () => step(1),
    ArrowLeft: () => step(-1),
    ArrowDown: () => setAt((i) => Math.min(i + 1, page.cautions.length - 1)),
    ArrowUp: () => setAt((i) => Math.max(i - 1, 0)),
    " ": () => here && tick(here.id),
    n: () => channels(page.channels === 2 ? "4" : page.channels === 4 ? "8" : "2"),
    i: () => document.querySelector<HTMLElement>("[data-field=pin]")?.focus(),
    o: () => void navigate(`/jobs/${String(jobId)}/hook-up-page`),
  });
  const missing = cautions.filter((one) => !one.ticked);
  return (
    <Box maxW="1020px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {planHeadline(page)}
      </Text>
      <Text color="mute" mb="2.5">
        {recordingWords(page)}
      </Text>
      {stop && page.question.turns !== "bench" && (
        <Box role="alert" borderWidth="2px" borderColor="late" rounded="md" px="3.5" py="2" mb="2.5" maxW="760px" data-testid="stop-cranking">
          <Text fontSize="24px" fontWeight="720" color="late" lineHeight="1.2">
            Stop cranking
          </Text>
          <Text fontSize="14px">This hook-up turns the engine, and its valves may meet the pistons. Look at the marks first.</Text>
        </Box>
      )}
      {sent.error && <ErrorNote error={sent.error} onClose={sent.reset} />}
      <Flex gap="3" wrap="wrap" align="flex-end" mb="2">
        <Choice
          label="Question"
          options={page.questions.map((one) => ({ value: one.id, text: one.short, title: one.title }))}
          value={page.question.id}
          onPick={ask}
        />
      </Flex>
      <Flex gap="4" wrap="wrap" align="flex-end" mb="2">
        <Choice
          label="Channels"
          options={(["2", "4", "8"] as const).map((one) => ({ value: one, text: one }))}
          value={String(page.channels) as Channels}
          onPick={channels}
        />
        <Select
          label="Samples a second"
          value={String(page.recording.rate_hz)}
          options={page.recording.rates_hz.map((rate) => ({ value: String(rate), text: `${rateWords(rate)}${rate === page.recording.planned_rate_hz ? ", as planned" : ""}` }))}
          onPick={(rate) => keep({ rate_hz: Number(rate) === page.recording.planned_rate_hz ? null : Number(rate) })}
        />
        {page.names_cylinder && (
          <Select
            label="Cylinder of coil, plug or injector"
            value={String(page.cylinder)}
            options={page.cylinders.map((one) => ({ value: String(one), text: String(one) }))}
            onPick={(one) => keep({ cylinder: Number(one) })}
          />
        )}
        <Choice
          label="Pedal down cuts the fuel"
          options={[
            { value: "unknown", text: "Not proved" },
            { value: "proved", text: "Proved here" },
            { value: "not_there", text: "Not on this car" },
          ]}
          value={own.clear_flood}
          onPick={(clear_flood) => keep({ clear_flood })}
        />
        <QuietButton hint="O" onClick={() => void navigate(`/jobs/${String(jobId)}/hook-up-page`)}>
          One page to print
        </QuietButton>
      </Flex>
      <LeadTable page={page} onWires={(wires) => keep({ wires })} onRange={setRange} />
      <PanelTitle>State of the engine</PanelTitle>
      <Box as="ul" pl="4" fontSize="13.5px">
        {page.states.map((state) => (
          <li key={state}>{state}</li>
        ))}
      </Box>
      <CautionTicks cautions={cautions} at={at} onAt={setAt} onTick={tick} />
      <Flex mt="2" gap="3" align="center">
        <ActionButton onClick={() => void navigate(`/jobs/${String(jobId)}/captures`)} disabled={missing.length > 0 || (stop && page.question.turns !== "bench")}>
          To the recording
        </ActionButton>
        <Text fontSize="13px" role="status">
          {missing[0] ? `Still to tick: ${missing[0].text}${missing.length > 1 ? `, and ${String(missing.length - 1)} more` : ""}.` : "Everything is ticked."}
        </Text>
      </Flex>
      <Guides jobId={jobId} page={page} />
      <BeforeAfterTests jobId={jobId} page={page} />
    </Box>
  );
}
