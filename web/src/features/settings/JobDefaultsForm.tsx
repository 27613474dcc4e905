/** The limit that this workshop judges by, and what its hour costs. */
import { Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { jobDefaultsQuery } from "../../api/queries";
import { ErrorNote, Labelled, numberOf, OptionalNumber, PlainInput, Select, SmallForm, textOf, Waiting } from "../../ui";
import { type School, SCHOOLS } from "../call";

export function JobDefaultsForm() {
  const known = useQuery(jobDefaultsQuery);
  if (known.isPending) return <Waiting>Reading the settings</Waiting>;
  if (known.isError) return <ErrorNote error={known.error} onRetry={() => void known.refetch()} />;
  return <Form key={JSON.stringify(known.data)} known={known.data} />;
}

function Form({ known }: { known: Schemas["JobDefaults"] }) {
  const changes = useChanges();
  const [school, setSchool] = useState<School>(known.limit?.school ?? "maker");
  const [limit, setLimit] = useState(textOf(known.limit?.cam_deg));
  const [labour, setLabour] = useState(textOf(known.costs?.labour_per_hour));
  const [currency, setCurrency] = useState(known.costs?.currency ?? "");
  const keep = useMutation({
    mutationFn: () =>
      taken(
        client.PUT("/api/job-defaults", {
          body: { limit: { school, cam_deg: numberOf(limit) }, costs: { ...known.costs, labour_per_hour: numberOf(labour), currency: currency.trim() } },
        }),
      ),
    onSuccess: () => changes.jobDefaultsSet(),
  });
  return (
    <>
      <SmallForm saving={keep}>
        <Select label="Judged by" value={school} options={SCHOOLS} onPick={(picked) => setSchool(picked as School)} />
        <OptionalNumber label="Limit" unit="°" value={limit} onChange={setLimit} />
        <OptionalNumber label="Labour per hour" unit={currency} value={labour} onChange={setLabour} />
        <Labelled label="Currency">
          <PlainInput width={64} wrong={false} maxLength={8} value={currency} onChange={(event) => setCurrency(event.target.value)} />
        </Labelled>
      </SmallForm>
      <Text fontSize="13px" color="mute" mt="2">
        Jobs that are open already keep their own, which stand on their Call.
      </Text>
      {keep.isSuccess && (
        <Text role="status" fontSize="13px">
          Saved: the next job begins with these.
        </Text>
      )}
    </>
  );
}
