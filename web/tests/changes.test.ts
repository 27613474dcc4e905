/** What each change makes stale: everything about a capture when it is measured anew, and nothing forgotten. */
import { QueryClient } from "@tanstack/react-query";
import { beforeEach, expect, it } from "vitest";

import { changesOf } from "../src/api/changes";
import { analysisQuery, betweenQuery, boardQuery, capturesQuery, edgesQuery, enginesQuery, firingOrderQuery, jobQuery, looksQuery, sealQuery, sheetQuery, stripQuery } from "../src/api/queries";
import { traceQuery } from "../src/features/signals/trace";

const KEYS = {
  board: boardQuery.queryKey,
  engines: enginesQuery.queryKey,
  job: jobQuery(1).queryKey,
  analysis: analysisQuery(1).queryKey,
  captures: capturesQuery(1).queryKey,
  looks: looksQuery(1).queryKey,
  order: firingOrderQuery(1).queryKey,
  strip: stripQuery(7).queryKey,
  seal: sealQuery(7).queryKey,
  sheet: sheetQuery(7).queryKey,
  raw: traceQuery(7, 0, 1, 100).queryKey,
  edges: edgesQuery(7, 0, 1).queryKey,
  between: betweenQuery(7, 0, 1).queryKey,
  "another job": analysisQuery(2).queryKey,
  "another strip": stripQuery(8).queryKey,
} as const;
const OF_CAPTURE = ["strip", "seal", "sheet", "raw", "edges", "between"];
const OF_JOB = ["job", "analysis", "captures", "looks", "order"];
const ALL = Object.keys(KEYS);

let client: QueryClient;
beforeEach(() => {
  client = new QueryClient();
  for (const key of Object.values(KEYS)) client.setQueryData(key as readonly unknown[], "known");
});

const changes = () =>
  changesOf((...keys) => Promise.all(keys.length ? keys.map((queryKey) => client.invalidateQueries({ queryKey })) : [client.invalidateQueries()]));
const stale = () => ALL.filter((name) => client.getQueryState(KEYS[name as keyof typeof KEYS] as readonly unknown[])?.isInvalidated).sort();

it("a low-pass makes rulers and every picture of the capture stale, and no other capture", async () => {
  await changes().captureChanged(1, 7);
  expect(stale()).toEqual(["board", ...OF_JOB, ...OF_CAPTURE].sort());
});

it("another firing order leaves no old TDC label anywhere", async () => {
  await changes().engineOfJobChanged();
  expect(stale()).toEqual([...ALL].sort());
});

it("a known good capture changes what every other one is compared with", async () => {
  await changes().knownGoodChanged();
  expect(stale()).toContain("another strip");
  expect(stale()).toContain("another job");
});

it("a mark measures nothing anew", async () => {
  await changes().marksChanged(7);
  expect(stale()).toEqual(["sheet", "strip"]);
});

it("a look speaks in the call, not in the pictures", async () => {
  await changes().looksChanged(1);
  expect(stale()).toEqual(["board", ...OF_JOB].sort());
});

it("what a colleague stored makes that job, that capture and the lists stale, and no other", async () => {
  await changes().heardOf({ jobs: [1], captures: [7], called: [], everywhere: false });
  expect(stale()).toEqual([...OF_JOB, ...OF_CAPTURE, "board"].sort());
});

it("nothing is stale where only the stream began, and everything where it cannot be told what changed", async () => {
  await changes().heardOf({ jobs: [], captures: [], called: [], everywhere: false });
  expect(stale()).toEqual([]);
  await changes().heardOf({ jobs: [], captures: [], called: [2], everywhere: false });
  expect(stale()).toEqual(["board"]);
  await changes().heardOf({ jobs: [], captures: [], called: [], everywhere: true });
  expect(stale()).toEqual([...ALL].sort());
});
