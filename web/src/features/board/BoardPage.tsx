/** The bay board: every job, where it stands, the call so far. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";

import { usePutHeader } from "../../app/header";
import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { boardQuery } from "../../api/queries";
import { ActionButton, ErrorNote, ListPage, TakenOutNote } from "../../ui";
import { UpdateNote } from "../updates";
import { BoardRow } from "./BoardRow";
import { NewJobDialog } from "./NewJobDialog";
import { OpenBundle } from "./OpenBundle";

export function BoardPage() {
  const board = useQuery({ ...boardQuery, select: (page) => page.rows });
  const total = useQuery({ ...boardQuery, select: (page) => page.total });
  const [opening, setOpening] = useState(false);
  usePutHeader(null, "board", "Bay board");
  const location = useLocation();
  const navigate = useNavigate();
  const changes = useChanges();
  const gone = (location.state as { gone?: { id: number; vehicle: string } } | null)?.gone;
  const back = useMutation({
    mutationFn: (id: number) => taken(client.POST("/api/jobs/{job_id}/restoration", { params: { path: { job_id: id } } })),
    onSuccess: async () => {
      await navigate("/", { replace: true, state: null });
      await changes.takenOutChanged();
    },
  });
  return (
    <>
      <ListPage
        title="Bay board"
        about={total.data === undefined ? " " : countWords(total.data)}
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
        above={
          <>
            <UpdateNote />
            {gone && (
            <>
              {back.isError && <ErrorNote error={back.error} onClose={() => back.reset()} />}
              <TakenOutNote onBack={() => back.mutate(gone.id)}>{gone.vehicle} was taken off the board, with everything in it.</TakenOutNote>
            </>
            )}
          </>
        }
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
  const many = count > 200 ? "; the newest 200 are here, all of them in the logbook" : "";
  return count === 1 ? "One open job" : `${String(count)} open jobs${many}`;
}
