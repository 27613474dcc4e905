/** Moments of a capture that a person names: each change is made to what is stored by then, one after the other. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken, takenTagged } from "../../api/client";
import type { Sheet } from "./setup";

type Mark = Schemas["Mark"];
type Stored = { marks: Mark[]; version: number };
type Change = (marks: Mark[]) => Mark[];

export type Marks = {
  all: Mark[];
  add: (timeS: number) => void;
  /** Settles once it is stored, or was refused. */
  name: (mark: Mark, text: string) => Promise<unknown>;
  takeOut: (mark: Mark) => void;
  failed: Error | null;
  again: () => void;
};

export function useMarks(sheet: Sheet): Marks {
  const changes = useChanges();
  const captureId = sheet.capture.id;
  const path = { capture_id: captureId };
  const [shown, setShown] = useState(storedIn(sheet));
  const stored = useRef(shown);
  const heard = (next: Stored) => {
    if (next.version <= stored.current.version) return;
    stored.current = next;
    setShown(next);
  };
  useEffect(() => {
    heard(storedIn(sheet));
  }, [sheet]);
  const change = useMutation({
    // One at a time: the next is made from what this one has left.
    scope: { id: `marks of ${String(captureId)}` },
    mutationFn: (made: Change) => {
      const { marks, version } = stored.current;
      return takenTagged(client.PUT("/api/captures/{capture_id}/marks", { params: { path, header: madeFrom(version) }, body: { marks: made(marks) } }));
    },
    onSuccess: ({ data, version }) => {
      heard({ marks: data.marks, version });
      void changes.marksChanged(captureId);
    },
  });
  const again = async () => {
    const made = change.variables;
    heard(storedIn(await taken(client.GET("/api/captures/{capture_id}/sheet", { params: { path } }))));
    if (made) change.mutate(made);
  };
  return {
    all: shown.marks,
    add: (timeS) => change.mutate(withMark(timeS)),
    name: (mark, text) => change.mutateAsync(named(mark, text)).catch(() => undefined),
    takeOut: (mark) => change.mutate(without(mark)),
    failed: change.error,
    again: () => void again(),
  };
}

function storedIn({ marks, capture }: Sheet): Stored {
  return { marks, version: capture.version };
}

/** One moment is marked once. */
export function withMark(timeS: number): Change {
  return (marks) => (marks.some((one) => one.t_s === timeS) ? marks : [...marks, { t_s: timeS, text: "" }]);
}

/** Its moment tells which it is; of two at one moment, as a file may bring them, the words do. */
function place(marks: Mark[], mark: Mark): number {
  const same = marks.findIndex((one) => one.t_s === mark.t_s && one.text === mark.text);
  return same < 0 ? marks.findIndex((one) => one.t_s === mark.t_s) : same;
}

/** One that is gone meanwhile comes back with its words. */
export function named(mark: Mark, text: string): Change {
  return (marks) => {
    const at = place(marks, mark);
    return at < 0 ? [...marks, { ...mark, text }] : marks.map((one, k) => (k === at ? { ...one, text } : one));
  };
}

export function without(mark: Mark): Change {
  return (marks) => {
    const at = place(marks, mark);
    return marks.filter((_, k) => k !== at);
  };
}
