import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { documentNow, jobDocumentQuery } from "../../api/queries";
import { ActionButton, Labelled, OptionalNumber, numberOf, OutdatedNote, PlainInput, Select, textOf } from "../../ui";
import { type School, SCHOOLS } from "./schools";

type Told = Schemas["JobDocument"];
type Props = { jobId: number; test: Schemas["NextTest"] | null };

/** The limit that is judged by, what labour costs, and what the proposed test costs on this engine. */
export function Settings({ jobId, test }: Props) {
  const told = useQuery(jobDocumentQuery(jobId));
  // What is entered stays while a colleague's change arrives; the form begins anew only when it was stored, or dropped.
  const [begun, setBegun] = useState(0);
  if (!told.data) return null;
  return (
    <Form
      key={JSON.stringify([begun, test?.test])}
      jobId={jobId}
      {...told.data}
      test={test}
      onStored={() => setBegun(begun + 1)}
    />
  );
}

type FormProps = Props & { data: Told; version: number; onStored: () => void };

function Form({ jobId, data, version, test, onStored }: FormProps) {
  const changes = useChanges();
  const [told] = useState(data);
  const [base, setBase] = useState(version);
  const [school, setSchool] = useState<School>(told.limit?.school ?? "maker");
  const [limit, setLimit] = useState(textOf(told.limit?.cam_deg));
  const [labour, setLabour] = useState(textOf(told.costs?.labour_per_hour));
  const [currency, setCurrency] = useState(told.costs?.currency ?? "");
  const [hours, setHours] = useState(textOf(told.costs?.opening_hours));
  const [minutes, setMinutes] = useState(textOf(test?.minutes));
  const spent = numberOf(minutes);
  const keep = useMutation({
    mutationFn: ({ on, from }: { on: Told; from: number }) => {
      const body: Told = {
        ...on,
        limit: { school, cam_deg: numberOf(limit) },
        costs: { ...on.costs, labour_per_hour: numberOf(labour), currency, opening_hours: numberOf(hours) },
        minutes: { ...on.minutes, ...(test && spent !== null ? { [test.test]: spent } : {}) },
      };
      return taken(client.PUT("/api/jobs/{job_id}/document", { params: { path: { job_id: jobId }, header: madeFrom(from) }, body }));
    },
    onSuccess: async () => {
      await changes.toldChanged(jobId);
      onStored();
    },
  });
  /** The colleague's other entries stay; these fields become what stands here. */
  const keepMine = async () => {
    const theirs = await documentNow(jobId);
    setBase(theirs.version);
    keep.mutate({ on: theirs.data, from: theirs.version });
  };
  const takeTheirs = async () => {
    await changes.toldChanged(jobId);
    onStored();
  };
  return (
    <Box as="section" mt="5" data-testid="call-settings">
      <Text as="h2" fontSize="16px" fontWeight="680" mb="1">
        Limit, minutes and costs of this job
      </Text>
      {keep.error && <OutdatedNote error={keep.error} onMine={() => void keepMine()} onTheirs={() => void takeTheirs()} onClose={keep.reset} />}
      <Flex gap="3" wrap="wrap" align="flex-end">
        <Select label="Judged by" value={school} options={SCHOOLS} onPick={(picked) => setSchool(picked as School)} />
        <OptionalNumber label="Limit" unit="°" value={limit} onChange={setLimit} />
        {test && <OptionalNumber label={`Minutes for: ${test.title.toLowerCase()}`} unit="min" value={minutes} onChange={setMinutes} />}
        <OptionalNumber label="Opening" unit="h" value={hours} onChange={setHours} />
        <OptionalNumber label="Labour per hour" unit={currency} value={labour} onChange={setLabour} />
        <Labelled label="Currency">
          <PlainInput width={64} wrong={false} maxLength={8} value={currency} onChange={(event) => setCurrency(event.target.value)} />
        </Labelled>
        <ActionButton onClick={() => keep.mutate({ on: told, from: base })} disabled={keep.isPending}>
          Save these
        </ActionButton>
      </Flex>
    </Box>
  );
}
