/** The call: what rests on what, what is missing, what opening shows, and what it costs to be wrong. */
import { Box, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { apiPath } from "../../api/base";
import type { Schemas } from "../../api/client";
import { analysisQuery } from "../../api/queries";
import { EmptyNote, ErrorNote, QuietButton, useKeys, Waiting, lowerFirst, percent } from "../../ui";
import { OlderCall } from "../updates";
import { CostsAndLimits } from "./CostsAndLimits";
import { EvidenceTable } from "./EvidenceTable";
import { callHeadline } from "./headline";
import { Opening } from "./Opening";
import { Pillars } from "./Pillars";
import { tableColumns, tableRows } from "./rows";
import { Sentences } from "./Sentences";
import { Settings } from "./Settings";
import { WouldChange } from "./WouldChange";

export function CallStation({ jobId }: { jobId: number }) {
  const analysis = useQuery(analysisQuery(jobId));
  if (analysis.isPending) return <Waiting>Weighing the explanations</Waiting>;
  if (analysis.isError) return <ErrorNote error={analysis.error} onRetry={() => void analysis.refetch()} />;
  if (!analysis.data?.analysis.verdict.measured)
    return (
      <EmptyNote title="No call yet">
        A call needs a capture or a look: <Link to={`/jobs/${jobId}/captures`}>4 Captures</Link> or{" "}
        <Link to={`/jobs/${jobId}/look`}>2 Look and listen</Link>. Before anything was measured there are no percentages.
      </EmptyNote>
    );
  return <Called jobId={jobId} analysis={analysis.data.analysis} older={analysis.data.older} />;
}

function Called({ jobId, analysis, older }: { jobId: number; analysis: Schemas["Analysis"]; older: string | null | undefined }) {
  const { verdict } = analysis;
  const rows = tableRows(verdict);
  const columns = tableColumns(verdict, rows);
  const [at, setAt] = useState(0);
  const picked = rows[Math.min(at, rows.length - 1)];
  useKeys({
    ArrowDown: () => setAt((i) => Math.min(i + 1, rows.length - 1)),
    ArrowUp: () => setAt((i) => Math.max(i - 1, 0)),
    Home: () => setAt(0),
    o: () => bringIntoView("opening"),
    w: () => bringIntoView("would-change"),
  });
  const words = callHeadline(verdict);
  const besides = verdict.faults.filter((fault) => fault.besides);
  return (
    <Box maxW="1020px">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {words.gate}:{" "}
        <Box as="span" color={verdict.teardown === "go" ? "late" : "ink"}>
          {words.call}
        </Box>
      </Text>
      <Text color="mute" mb="3">
        {words.why}
      </Text>
      <OlderCall version={older} />
      {besides.map((fault) => (
        <Text key={fault.fault} mb="2" fontWeight="620">
          Besides, {lowerFirst(fault.title)}: {percent(fault.probability)}.
        </Text>
      ))}
      <Pillars jobId={jobId} pillars={verdict.pillars ?? []} />
      <EvidenceTable rows={rows} columns={columns} at={at} onPick={setAt} />
      <Grid templateColumns={{ base: "1fr", xl: "3fr 2fr" }} gap="5" mb="5">
        {picked && <Sentences fault={picked} notCounted={verdict.not_counted ?? []} />}
        <WouldChange test={verdict.next_test} gate={verdict.teardown} />
      </Grid>
      <Grid templateColumns={{ base: "1fr", xl: verdict.opening ? "minmax(0, 1fr) 250px" : "1fr" }} gap="5">
        {verdict.opening && <Opening opening={verdict.opening} />}
        <CostsAndLimits costs={verdict.costs ?? null} schools={verdict.schools ?? []} />
      </Grid>
      <Settings jobId={jobId} test={verdict.next_test} />
      <RestsOn jobId={jobId} provenance={analysis.provenance} />
    </Box>
  );
}

function bringIntoView(id: string): void {
  const place = document.getElementById(id);
  place?.scrollIntoView({ block: "start" });
  place?.focus({ preventScroll: true });
}

function RestsOn({ jobId, provenance }: { jobId: number; provenance: Schemas["Provenance"] }) {
  return (
    <Box mt="5" fontSize="13px" color="mute">
      <Text>
        {provenance.software}
        {provenance.code ? `, code ${provenance.code.slice(0, 12)}` : ""}, numbers {provenance.numbers}
      </Text>
      {provenance.captures.map((capture) => (
        <Text key={capture.sha256}>
          {capture.file}, checksum {capture.sha256.slice(0, 12)}
        </Text>
      ))}
      <QuietButton asChild mt="3">
        <a href={apiPath(`/api/jobs/${jobId}/result`)} download={`job-${jobId}.analysis.json`}>
          Export the result as a file
        </a>
      </QuietButton>
    </Box>
  );
}
