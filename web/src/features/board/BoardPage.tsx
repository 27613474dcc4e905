/** The bay board: every job, where it stands, the call so far. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";

import { usePutHeader } from "../../app/header";
import { boardQuery } from "../../api/queries";
import { ActionButton, EmptyNote, ErrorNote, useKeys, Waiting } from "../../ui";
import { BoardRow } from "./BoardRow";
import { NewJobDialog } from "./NewJobDialog";
import { OpenBundle } from "./OpenBundle";

export function BoardPage() {
  const board = useQuery(boardQuery);
  const [opening, setOpening] = useState(false);
  const list = useRef<HTMLUListElement>(null);
  usePutHeader(null, "board");
  const move = (step: number) => {
    const rows = [...(list.current?.querySelectorAll<HTMLAnchorElement>("a") ?? [])];
    const at = rows.findIndex((row) => row === document.activeElement);
    rows[at < 0 ? 0 : Math.min(Math.max(at + step, 0), rows.length - 1)]?.focus();
  };
  useKeys({ n: () => setOpening(true), ArrowDown: () => move(1), ArrowUp: () => move(-1) });
  return (
    <Box h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Flex align="end" justify="space-between" mb="5" gap="4">
        <Box>
          <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15">
            Bay board
          </Text>
          <Text color="mute">{board.data ? countWords(board.data.length) : " "}</Text>
        </Box>
        <Flex gap="2" align="center">
          <OpenBundle />
          <ActionButton onClick={() => setOpening(true)} title="Key N">
            New job
          </ActionButton>
        </Flex>
      </Flex>
      {board.isPending && <Waiting>Reading the board</Waiting>}
      {board.isError && <ErrorNote error={board.error} onRetry={() => void board.refetch()} />}
      {board.data?.length === 0 && (
        <EmptyNote title="No job in the bay">
          Open one with its vehicle and engine, then drop a capture into it. <b>N</b> opens the form.
        </EmptyNote>
      )}
      {board.data && board.data.length > 0 && (
        <Box as="ul" ref={list} listStyleType="none" borderTopWidth="1px" borderColor="line">
          {board.data.map((row) => (
            <BoardRow key={row.job.id} row={row} />
          ))}
        </Box>
      )}
      <NewJobDialog open={opening} onClose={() => setOpening(false)} />
    </Box>
  );
}

function countWords(count: number): string {
  return count === 1 ? "One job" : `${count} jobs`;
}
