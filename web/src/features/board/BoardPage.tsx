/** The bay board: every job, where it stands, the call so far. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { usePutHeader } from "../../app/header";
import { boardQuery } from "../../api/queries";
import { ActionButton, ListPage } from "../../ui";
import { BoardRow } from "./BoardRow";
import { NewJobDialog } from "./NewJobDialog";
import { OpenBundle } from "./OpenBundle";

export function BoardPage() {
  const board = useQuery(boardQuery);
  const [opening, setOpening] = useState(false);
  usePutHeader(null, "board");
  return (
    <>
      <ListPage
        title="Bay board"
        about={board.data ? countWords(board.data.length) : " "}
        rows={board}
        waiting="Reading the board"
        empty={{
          title: "No job in the bay",
          text: (
            <>
              Open one with its vehicle and engine, then drop a capture into it. <b>N</b> opens the form.
            </>
          ),
        }}
        onNew={() => setOpening(true)}
        actions={
          <>
            <OpenBundle />
            <ActionButton onClick={() => setOpening(true)} title="Key N">
              New job
            </ActionButton>
          </>
        }
      >
        {(row) => <BoardRow key={row.job.id} row={row} />}
      </ListPage>
      <NewJobDialog open={opening} onClose={() => setOpening(false)} />
    </>
  );
}

function countWords(count: number): string {
  return count === 1 ? "One job" : `${count} jobs`;
}
