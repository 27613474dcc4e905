/** The signals between two times as the server sends them: bands of minima and maxima in typed arrays. */
import { queryOptions } from "@tanstack/react-query";

import { apiPath } from "../../api/base";
import { apiError, type Schemas, unreachable } from "../../api/client";
import type { TraceChannel } from "./band";

export type TraceHead = Schemas["RawTrace"];
export type Trace = { fromS: number; toS: number; channels: TraceChannel[] };

export const traceQuery = (captureId: number, fromS: number, toS: number, points: number) =>
  queryOptions({
    queryKey: ["capture", captureId, "raw", fromS, toS, points],
    queryFn: ({ signal }) => fetchTrace(captureId, fromS, toS, points, signal),
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: (previous) => previous,
  });

async function fetchTrace(captureId: number, fromS: number, toS: number, points: number, signal: AbortSignal): Promise<Trace> {
  const asked = new URLSearchParams({ from_s: String(fromS), to_s: String(toS), points: String(points) });
  let answer: Response;
  try {
    answer = await fetch(apiPath(`/api/captures/${String(captureId)}/raw?${asked.toString()}`), { signal });
  } catch (error) {
    if (signal.aborted) throw error;
    throw unreachable();
  }
  if (!answer.ok) throw apiError(answer.status, await answer.json().catch(() => null));
  return unpacked(await answer.arrayBuffer());
}

/** Head length (uint32), head as JSON, then per channel minima and maxima as float32. */
export function unpacked(answer: ArrayBuffer): Trace {
  const length = new DataView(answer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(answer, 4, length))) as TraceHead;
  let at = 4 + length;
  const channels = head.channels.map((channel) => {
    const low = new Float32Array(answer, at, channel.steps);
    const high = new Float32Array(answer, at + 4 * channel.steps, channel.steps);
    at += 8 * channel.steps;
    return { ...channel, low, high };
  });
  return { fromS: head.from_s, toS: head.to_s, channels };
}
