/** The end of the job: what goes out, the repair and its proof, and how the job is closed. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { apiPath } from "../../api/base";
import { apiError, type Schemas, unreachable } from "../../api/client";
import { handOverQuery, type PageKind, type Paper, shownPageQuery } from "../../api/closing-queries";
import { useTold } from "../../api/told";
import { ActionButton, Choice, ErrorNote, QuietButton, useKeys, Waiting } from "../../ui";
import { BeforeItGoes } from "./BeforeItGoes";
import { ClosePanel } from "./ClosePanel";
import { copyFirstWord, fileAddress } from "./copying";
import { PaperPage } from "./PaperPage";
import { RepairPanel } from "./RepairPanel";
import { PAGES, PAPERS, SHOWN, type Shown } from "./words";

export function HandOverStation({ job }: { job: Schemas["JobSummary"] }) {
  const handOver = useQuery(handOverQuery(job.id));
  const { told, failure, keep } = useTold(job.id);
  const [shown, setShown] = useState<Shown>("pages");
  useKeys({ v: () => setShown("pages"), r: () => setShown("repair"), x: () => setShown("close") });
  if (handOver.isPending) return <Waiting>Writing the hand-over</Waiting>;
  if (handOver.isError) return <ErrorNote error={handOver.error} onRetry={() => void handOver.refetch()} />;
  const doc = handOver.data;
  return (
    <>
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="hand-over-headline">
        {doc.headline}
      </Text>
      <Text color="mute" mb="2">
        {job.closed_at ? `Closed ${job.closed_at.slice(0, 10)}, cause ${job.cause ?? "unknown"}.` : `${doc.five[1]?.text ?? ""} ${doc.stop}`}
      </Text>
      <Box mb="3">
        <Choice label="Show" options={SHOWN} value={shown} onPick={setShown} />
      </Box>
      {failure && <ErrorNote error={failure} />}
      {keep.isError && <ErrorNote error={keep.error} onClose={keep.reset} />}
      {shown === "pages" && <Pages jobId={job.id} />}
      {shown === "pages" && told && <BeforeItGoes told={told} doc={doc} onChange={(change) => keep.mutate(change)} />}
      {shown === "repair" && told && <RepairPanel job={job} told={told} doc={doc} />}
      {shown === "close" && told && <ClosePanel job={job} told={told} doc={doc} />}
    </>
  );
}

function Pages({ jobId }: { jobId: number }) {
  const [page, setPage] = useState<PageKind>("full");
  const [paper, setPaper] = useState<Paper>("A4");
  const [failed, setFailed] = useState<Error | null>(null);
  const shown = useQuery(shownPageQuery(jobId, page, paper));
  const copy = useMutation({ mutationFn: () => copyFirstWord(jobId) });
  const file = useMutation({
    mutationFn: ({ form, of }: { form: "pdf" | "html" | "json" | "png"; of: PageKind }) => save(fileAddress(jobId, form, of, paper)),
    onError: setFailed,
    onMutate: () => setFailed(null),
  });
  useKeys({
    Enter: () => copy.mutate(),
    p: () => file.mutate({ form: "pdf", of: "full" }),
    h: () => file.mutate({ form: "html", of: page }),
    o: () => file.mutate({ form: "pdf", of: "owner" }),
  });
  return (
    <>
      <Flex gap="2" wrap="wrap" align="center" mb="2">
        <ActionButton onClick={() => copy.mutate()} loading={copy.isPending} title="Key Enter" data-testid="copy-first-word">
          Copy the first word
        </ActionButton>
        <QuietButton hint="P" onClick={() => file.mutate({ form: "pdf", of: "full" })} loading={file.isPending}>
          PDF
        </QuietButton>
        <QuietButton hint="O" onClick={() => file.mutate({ form: "pdf", of: "owner" })}>
          For the owner
        </QuietButton>
        <QuietButton hint="H" onClick={() => file.mutate({ form: "html", of: page })}>
          HTML
        </QuietButton>
        <QuietButton onClick={() => file.mutate({ form: "png", of: "first" })}>Picture</QuietButton>
        <QuietButton onClick={() => file.mutate({ form: "json", of: "full" })}>JSON</QuietButton>
        <QuietButton asChild>
          <a href={apiPath(`/api/jobs/${String(jobId)}/export`)} download>
            Whole job
          </a>
        </QuietButton>
      </Flex>
      {copy.isSuccess && (
        <Text role="status" fontSize="13.5px" mb="2" data-testid="copied">
          {copy.data === "both" ? "Copied: picture and five lines. Paste them into a message." : "Copied: the five lines. The picture has to be saved by hand here."}
        </Text>
      )}
      {copy.isError && <ErrorNote error={copy.error} onClose={() => copy.reset()} />}
      {failed && <ErrorNote error={failed} onClose={() => setFailed(null)} />}
      <Flex gap="4" wrap="wrap" mb="2">
        <Choice label="Page" options={PAGES} value={page} onPick={setPage} />
        <Choice label="Paper" options={PAPERS} value={paper} onPick={setPaper} />
      </Flex>
      {shown.isPending && <Waiting>Setting the page</Waiting>}
      {shown.isError && <ErrorNote error={shown.error} onRetry={() => void shown.refetch()} />}
      {shown.data && <PaperPage html={shown.data.html} label={PAGES.find((one) => one.value === page)?.text ?? ""} />}
    </>
  );
}

/** A file from the server, saved under the name it gives; a refusal is shown, not saved. */
async function save(address: string): Promise<void> {
  const answer = await fetch(address).catch(() => {
    throw unreachable();
  });
  if (!answer.ok) throw apiError(answer.status, await answer.json().catch(() => null));
  const name = decodeURIComponent(/filename\*=UTF-8''(.+)$/.exec(answer.headers.get("content-disposition") ?? "")?.[1] ?? "hand-over");
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await answer.blob());
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
