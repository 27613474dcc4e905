/** Tests with a before and an after: steps, a capture on either side, what changed, and the outcome as a look. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { capturesQuery, changesQuery } from "../../api/queries";
import { ActionButton, changeWords, Choice, ErrorNote, PanelTitle, QuietButton, QuietTable, Select } from "../../ui";

type Page = Schemas["HookUpPage"];
type Test = Schemas["BeforeAfterOut"];

export function BeforeAfterTests({ jobId, page }: { jobId: number; page: Page }) {
  const [open, setOpen] = useState<string | null>(null);
  const test = page.before_after.find((one) => one.id === open);
  return (
    <Box as="section" aria-label="Before and after" mb="8">
      <PanelTitle note="one thing is changed, the same is recorded on either side">Tests with a before and an after</PanelTitle>
      <Flex gap="2" wrap="wrap" mb="2">
        {page.before_after.map((one) => (
          <QuietButton key={one.id} aria-pressed={one.id === open} borderColor={one.id === open ? "petrol" : "line"} onClick={() => setOpen(one.id === open ? null : one.id)}>
            {one.title}
          </QuietButton>
        ))}
      </Flex>
      {page.guided
        .filter((kept) => page.before_after.some((one) => one.id === kept.guided.guide))
        .map((kept) => (
          <Text key={kept.guided.guide} fontSize="13.5px" mb="1" data-testid="before-after">
            <b>{page.before_after.find((one) => one.id === kept.guided.guide)?.title}:</b> {kept.words}
          </Text>
        ))}
      {test && <TestForm key={test.id} jobId={jobId} test={test} page={page} />}
    </Box>
  );
}

function TestForm({ jobId, test, page }: { jobId: number; test: Test; page: Page }) {
  const changes = useChanges();
  const captures = useQuery(capturesQuery(jobId));
  const held = page.guided.find((one) => one.guided.guide === test.id)?.guided.answers ?? {};
  const [before, setBefore] = useState(held.before ?? "");
  const [after, setAfter] = useState(held.after ?? "");
  const [outcome, setOutcome] = useState(held.outcome ?? "");
  const known = captures.data ?? [];
  const sides = [before, after].map((name) => known.find((one) => one.name === name)?.id);
  const keep = useMutation({
    mutationFn: () => {
      const answers = Object.fromEntries(Object.entries({ before: before.slice(0, 40), after: after.slice(0, 40), outcome }).filter(([, value]) => value));
      return taken(
        client.PUT("/api/jobs/{job_id}/guided", { params: { path: { job_id: jobId } }, body: { guide: test.id, about: "", readings: {}, answers, note: "" } }),
      );
    },
    onSuccess: () => changes.looksChanged(jobId),
  });
  const options = [{ value: "", text: "no capture yet" }, ...known.map((one) => ({ value: one.name, text: one.name }))];
  return (
    <Box borderWidth="1px" borderColor="line" rounded="sm" p="3" role="form" aria-label={test.title}>
      <Text fontWeight="600" fontSize="13.5px">
        {test.caution}
      </Text>
      <Text fontSize="13.5px" mb="1">
        {test.shows}
      </Text>
      <Box as="ol" fontSize="13.5px" mb="2">
        {test.steps.map((step, i) => (
          <li key={step}>
            {i + 1}. {step}
          </li>
        ))}
      </Box>
      <Flex gap="3" wrap="wrap" align="flex-end">
        <Select label="Before" value={before} options={options} onPick={setBefore} />
        <Select label="After" value={after} options={options} onPick={setAfter} />
        <Choice label="It is" options={test.outcomes.map((one) => ({ value: one.id, text: one.title }))} value={outcome} onPick={setOutcome} />
        <ActionButton h="32px" fontSize="13px" onClick={() => keep.mutate()} disabled={!outcome || keep.isPending}>
          Save the outcome
        </ActionButton>
      </Flex>
      {keep.error && <ErrorNote error={keep.error} onClose={keep.reset} />}
      {sides[0] !== undefined && sides[1] !== undefined && sides[0] !== sides[1] && <ChangeTable jobId={jobId} before={sides[0]} after={sides[1]} />}
    </Box>
  );
}

function ChangeTable({ jobId, before, after }: { jobId: number; before: number; after: number }) {
  const found = useQuery(changesQuery(jobId, before, after));
  if (found.isError) return <ErrorNote error={found.error} />;
  if (!found.data) return null;
  return (
    <Box mt="2" data-testid="changes">
      <QuietTable label="What changed" heads={["", "Before", "After", "Changed by"]}>
        {found.data.map((row) => (
          <Table.Row key={row.what}>
            <Table.Cell fontWeight="600">{row.what}</Table.Cell>
            <Table.Cell>{row.before}</Table.Cell>
            <Table.Cell>{row.after}</Table.Cell>
            <Table.Cell fontWeight={row.real ? "650" : "400"}>
              {changeWords(row)}
            </Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
    </Box>
  );
}
