/** What a change makes stale. The only place that knows it: a screen says what it did, not which answers that spoils. */
import { type QueryKey, useQueryClient } from "@tanstack/react-query";

import type { Schemas } from "./client";

export type Changes = ReturnType<typeof changesOf>;
type Spoil = (...keys: QueryKey[]) => Promise<unknown>;

/** The changes a person can make, each told once it is stored. */
export function useChanges(): Changes {
  const queries = useQueryClient();
  return changesOf((...keys) =>
    Promise.all(keys.length ? keys.map((queryKey) => queries.invalidateQueries({ queryKey })) : [queries.invalidateQueries()]),
  );
}

const BOARD: QueryKey = ["board"];
const JOBS: QueryKey = ["job"];
const CAPTURES: QueryKey = ["capture"];
const ENGINES: QueryKey = ["engines"];
const TAKEN_OUT: QueryKey = ["taken-out"];
const RECORDING: QueryKey = ["recording"];
const LOG: QueryKey = ["log"];
const PEOPLE: QueryKey = ["people"];
const REJUDGING: QueryKey = ["rejudging"];
const FLEET: QueryKey = ["fleet"];
const SESSION: QueryKey = ["session"];
/** Where many jobs stand in one list. */
const LISTS: QueryKey[] = [BOARD, TAKEN_OUT, LOG];

export function changesOf(spoil: Spoil) {
  const everythingMeasured = () => spoil(JOBS, CAPTURES, BOARD, ENGINES);
  return {
    /** Somebody signed in or out: nothing that was seen before may be shown. */
    signedInOrOut: () => spoil(),
    /** A colleague stored something. */
    heardOf: (change: Pick<Schemas["Change"], "jobs" | "captures" | "called" | "everywhere">) => {
      if (change.everywhere) return spoil();
      const concerned = [...change.jobs.map((id) => [...JOBS, id]), ...change.captures.map((id) => [...CAPTURES, id])];
      if (concerned.length) return spoil(...concerned, ...LISTS);
      // A new result alone: whoever has that job open has asked for it.
      return change.called.length ? spoil(BOARD, REJUDGING) : Promise.resolve();
    },
    /** The stream of changes had broken off: a result may have come meanwhile. */
    listenedAgain: () => spoil(BOARD, REJUDGING),
    /** Jobs are being read anew by a newer version. */
    rejudged: () => spoil(REJUDGING),
    /** What a newer version says stands from now on. */
    takenOver: () => spoil(REJUDGING, JOBS, BOARD, LOG),
    /** The stream of changes was refused: somebody may have been signed out. */
    streamRefused: () => spoil(SESSION),
    /** The fleet's work was begun or stopped. */
    fleetMoved: () => spoil(FLEET),
    /** Its tables were written anew. */
    fleetMade: () => spoil([...FLEET, "kinds"]),
    jobOpened: () => spoil(BOARD),
    /** A job or capture was taken out, brought back or erased: it may have been a known good one, too. */
    takenOutChanged: () => spoil(TAKEN_OUT, LOG, JOBS, CAPTURES, BOARD, ENGINES),
    peopleChanged: () => spoil(PEOPLE, LOG),
    /** A profile was written: lists of engines show it, and jobs that are moved to it are read anew. */
    engineStored: () => spoil(ENGINES),
    /** A job is read with another profile: each of its captures, and what other jobs compare with them. */
    engineOfJobChanged: everythingMeasured,
    /** A capture came, or was taken out, or brought back. */
    capturesOfJobChanged: (jobId: number) => spoil([...JOBS, jobId], BOARD, TAKEN_OUT),
    /** What is said about a capture was changed: roles, scales, low-pass, stretch, cylinder taken out. */
    captureChanged: (jobId: number, captureId: number) => spoil([...JOBS, jobId], [...CAPTURES, captureId], BOARD),
    /** Marks only name moments: nothing is measured anew. */
    marksChanged: (captureId: number) => spoil([...CAPTURES, captureId, "sheet"], [...CAPTURES, captureId, "strip"]),
    /** A known good capture is what every other engine of its kind is compared with. */
    knownGoodChanged: everythingMeasured,
    /** Limit, costs, minutes, codes or complaint: the call and its gate read them. */
    toldChanged: (jobId: number) => spoil([...JOBS, jobId], BOARD),
    /** Question, channels, ticks, wires or readings with a meter: readings may be noted as a look. */
    hookUpChanged: (jobId: number) => spoil([...JOBS, jobId]),
    /** A recording began, was stopped, or is said to be of another state. */
    recordingChanged: (jobId: number) => spoil([...RECORDING, jobId]),
    /** A recording has become a capture. */
    recordingKept: (jobId: number) => spoil([...RECORDING, jobId], [...JOBS, jobId], BOARD),
    /** A photo, its caption: the pages of the hand-over show them. */
    photosChanged: (jobId: number) => spoil([...JOBS, jobId, "photos"], [...JOBS, jobId, "hand-over"]),
    /** A capture has another name. */
    captureRenamed: (jobId: number, captureId: number) => spoil([...JOBS, jobId], [...CAPTURES, captureId]),
    /** Jobs came in from an archive, with engines. */
    jobsTakenIn: () => spoil(BOARD, ENGINES, TAKEN_OUT, ["workshop-name"]),
    /** The workshop's own findings move the chances before measuring: every call is judged anew. */
    oddsMoved: () => spoil(JOBS, BOARD, LOG),
    jobDefaultsSet: () => spoil(["job-defaults"]),
    workshopNamed: () => spoil(["workshop-name"], JOBS, LOG),
    /** A practice car was called: everything may be told of it now. */
    carCalled: (jobId: number) => spoil([...JOBS, jobId], ["practice"]),
    /** What was seen, heard or driven speaks in the call. */
    looksChanged: (jobId: number) => spoil([...JOBS, jobId], BOARD),
  };
}
