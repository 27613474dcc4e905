import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useSearchParams } from "react-router";

import type { Schemas } from "../../api/client";
import { capturesQuery } from "../../api/queries";
import { Choice, ErrorNote, Waiting } from "../../ui";

type Capture = Schemas["ImportedCapture"];
type Props = {
  jobId: number;
  empty: ReactNode;
  children: (capture: Capture, choice: ReactNode) => ReactNode;
  prefers?: (capture: Capture) => boolean;
};

/** The confirmed capture that the address names, else the newest that a station `prefers`, else the newest; `choice` picks
 * another where there are several. */
export function PickedCapture({ jobId, empty, children, prefers = () => false }: Props) {
  const captures = useQuery(capturesQuery(jobId));
  const [search, setSearch] = useSearchParams();
  if (captures.isPending) return <Waiting>Reading the captures</Waiting>;
  if (captures.isError) return <ErrorNote error={captures.error} onRetry={() => void captures.refetch()} />;
  const measured = captures.data.filter((c) => c.confirmed);
  const shown = measured.find((c) => c.id === Number(search.get("capture"))) ?? measured.findLast(prefers) ?? measured.at(-1);
  if (!shown) return empty;
  const choice = measured.length > 1 && (
    <Choice
      label="Capture"
      options={measured.map((c) => ({ value: String(c.id), text: c.title || c.name }))}
      value={String(shown.id)}
      onPick={(id) => setSearch({ capture: id })}
    />
  );
  return children(shown, choice);
}
