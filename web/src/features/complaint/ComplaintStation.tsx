/** Complaint: what is wrong and since when, codes, what was done; and what to test first. Typed in seconds. */
import { Box, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { PRACTISING } from "../../api/base";
import { client, type Schemas, taken } from "../../api/client";
import { complaintQuery } from "../../api/queries";
import { useTold } from "../../api/told";
import { ErrorNote, useKeys, Waiting } from "../../ui";
import { BackgroundList } from "./BackgroundList";
import { CodeList, joined } from "./CodeList";
import { LostSignals } from "./LostSignals";
import { PlanList } from "./PlanList";
import { ReplacedList } from "./ReplacedList";
import { VehicleLine } from "./VehicleLine";
import { WhatIsWrong } from "./WhatIsWrong";
import { complaintSentence } from "./words";

type Props = { job: Schemas["JobSummary"] };

/** Puts the keyboard into the field of that name. */
function goTo(field: string) {
  document.querySelector<HTMLElement>(`[data-field="${field}"]`)?.focus();
}

export function ComplaintStation({ job }: Props) {
  const { told, failure, keep } = useTold(job.id);
  const page = useQuery(complaintQuery(job.id));
  const [pasting, setPasting] = useState(false);
  const [read, setRead] = useState("");
  const scan = useMutation({
    mutationFn: () => taken(client.POST("/api/jobs/{job_id}/scan", { params: { path: { job_id: job.id } } })),
    onSuccess: (found) => {
      const { live } = found;
      const values = [`${live.rpm.toFixed(0)} rpm`, live.battery_v == null ? "" : `${live.battery_v.toFixed(1)} V`, live.synchronised === false ? "not synchronised" : ""];
      setRead(`The scan tool holds ${found.codes.length ? found.codes.map((one) => one.code).join(", ") : "no code"}; now ${values.filter(Boolean).join(", ")}.`);
      keep.mutate((now) => ({ ...now, codes: joined(now.codes ?? [], found.codes) }));
    },
  });
  useKeys({
    s: () => scan.mutate(),
    t: () => goTo("complaint"),
    a: () => goTo("code"),
    p: () => setPasting(true),
    r: () => goTo("part"),
    e: () => goTo("event"),
  });
  if (failure) return <ErrorNote error={failure} />;
  if (page.isError) return <ErrorNote error={page.error} onRetry={() => void page.refetch()} />;
  if (!told || !page.data) return <Waiting>Reading the complaint</Waiting>;
  const off = job.removed_at !== null;
  return (
    <Box maxW="1020px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline" lineClamp={3}>
        {complaintSentence(told.complaint)}
      </Text>
      <VehicleLine job={job} told={told} />
      {off && <Text color="mute">This job was taken off the board; the Workshop page brings it back.</Text>}
      {scan.error && <ErrorNote error={scan.error} onClose={scan.reset} />}
      {read && (
        <Text fontSize="13.5px" role="status" data-testid="scanned">
          {read}
        </Text>
      )}
      {keep.error && <ErrorNote error={keep.error} onClose={keep.reset} />}
      {!PRACTISING && <PlanList jobId={job.id} />}
      <WhatIsWrong jobId={job.id} told={told} lamp={page.data.lamp} onChange={keep.mutate} />
      <CodeList
        told={told}
        page={page.data}
        pasting={pasting}
        onPasting={setPasting}
        scanning={scan.isPending}
        onScan={() => scan.mutate()}
        onChange={keep.mutate}
      />
      <ReplacedList told={told} onChange={keep.mutate} />
      <BackgroundList told={told} onChange={keep.mutate} />
      <LostSignals rows={page.data.lost_signals} />
    </Box>
  );
}
