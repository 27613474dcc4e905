import { Flex, Table, Text } from "@chakra-ui/react";
import { useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { logQuery } from "../../api/queries";
import { ErrorNote, QuietButton, Sideways, Waiting } from "../../ui";
import { moment } from "./roles";

/** Who did what, newest first; nobody can change or remove a line. */
export function Log() {
  const log = useInfiniteQuery(logQuery);
  if (log.isPending) return <Waiting>Reading the log</Waiting>;
  if (log.isError) return <ErrorNote error={log.error} onRetry={() => void log.refetch()} />;
  const lines = log.data.pages.flatMap((page) => page.lines);
  return (
    <>
      <Flex gap="3" align="center" mb="2" wrap="wrap">
        <Text color="mute" flex="1" minW="260px">
          Every change, newest first. The file itself refuses to alter or remove a line.
        </Text>
        <QuietButton asChild>
          <a href="/api/log/file" download>
            Export as CSV
          </a>
        </QuietButton>
      </Flex>
      {lines.length === 0 ? (
        <Text color="mute">Nothing was changed yet.</Text>
      ) : (
        <Sideways label="Who did what">
          <Table.Root size="sm" data-testid="log">
            <Table.Header>
              <Table.Row>
                {["When", "Who", "What", "Which entries"].map((head) => (
                  <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {lines.map((line) => (
                <Line key={line.id} line={line} />
              ))}
            </Table.Body>
          </Table.Root>
        </Sideways>
      )}
      {log.hasNextPage && (
        <QuietButton mt="2" loading={log.isFetchingNextPage} onClick={() => void log.fetchNextPage()}>
          Older
        </QuietButton>
      )}
    </>
  );
}

function Line({ line }: { line: Schemas["LogLine"] }) {
  const words = `${line.did} ${line.what}`;
  return (
    <Table.Row>
      <Table.Cell whiteSpace="nowrap">{moment(line.at)}</Table.Cell>
      <Table.Cell>{line.who}</Table.Cell>
      <Table.Cell>
        {line.job_id === null || line.did === "erased" ? words : <Link to={`/jobs/${String(line.job_id)}`}>{words}</Link>}
        {line.job_id !== null && !line.what.startsWith("job") && <Text as="span" color="mute">{` in job ${String(line.job_id)}`}</Text>}
      </Table.Cell>
      <Table.Cell>{line.fields.join(", ")}</Table.Cell>
    </Table.Row>
  );
}
