/** What the panels beside a phase measurement share: a quiet table, a title, and keeping what a person told. */
import { Box, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { documentNow, jobDocumentQuery } from "../../api/queries";

export function PanelTitle({ children, note }: { children: ReactNode; note?: ReactNode }) {
  return (
    <Text as="h2" fontWeight="650" fontSize="15px" mt="3" mb="1">
      {children}{" "}
      {note && (
        <Box as="span" color="mute" fontWeight="400" fontSize="12.5px">
          {note}
        </Box>
      )}
    </Text>
  );
}

type TableProps = { heads: ReactNode[]; children: ReactNode; label: string };

export function QuietTable({ heads, children, label }: TableProps) {
  return (
    <Box overflowX="auto">
      <Table.Root
        size="sm"
        aria-label={label}
        css={{
          "& th, & td": { borderColor: "line", bg: "transparent", color: "ink", px: "2", py: "1.5", verticalAlign: "top", fontSize: "13px" },
          "& th": { color: "mute", fontSize: "12.5px", fontWeight: 500 },
        }}
      >
        <Table.Header>
          <Table.Row bg="transparent">
            {heads.map((head, i) => (
              <Table.ColumnHeader key={i}>{head}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>{children}</Table.Body>
      </Table.Root>
    </Box>
  );
}

type Told = Schemas["JobDocument"];
type Change = (told: Told) => Told;

/** What a person told of the job, and a way to change one part of it: the rest stays as it is stored at that moment. */
export function useTold(jobId: number) {
  const changes = useChanges();
  const told = useQuery(jobDocumentQuery(jobId));
  const keep = useMutation({
    mutationFn: async (change: Change) => {
      const now = await documentNow(jobId);
      return taken(
        client.PUT("/api/jobs/{job_id}/document", { params: { path: { job_id: jobId }, header: madeFrom(now.version) }, body: change(now.data) }),
      );
    },
    onSuccess: () => changes.toldChanged(jobId),
  });
  return { told: told.data?.data, keep };
}
