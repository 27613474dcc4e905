/** What the screens ask for, each under one key. */
import { queryOptions } from "@tanstack/react-query";

import { client, taken } from "./client";

export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: () => taken(client.GET("/api/session")),
});

export const boardQuery = queryOptions({
  queryKey: ["board"],
  queryFn: () => taken(client.GET("/api/jobs")),
});

export const enginesQuery = queryOptions({
  queryKey: ["engines"],
  queryFn: () => taken(client.GET("/api/engines")),
});

export const jobQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: jobId } } })),
  });

export const capturesQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "captures"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/captures", { params: { path: { job_id: jobId } } })),
  });

export const analysisQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "analysis"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/analysis", { params: { path: { job_id: jobId } } })),
  });

export const stripQuery = (captureId: number) =>
  queryOptions({
    queryKey: ["strip", captureId],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/strip", { params: { path: { capture_id: captureId } } })),
    staleTime: Infinity,
  });

/** What lies between two rulers. */
export const betweenQuery = (captureId: number, aS: number, bS: number) =>
  queryOptions({
    queryKey: ["between", captureId, aS, bS],
    queryFn: () =>
      taken(
        client.GET("/api/captures/{capture_id}/between", {
          params: { path: { capture_id: captureId }, query: { a_s: aS, b_s: bS } },
        }),
      ),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });

export const sheetQuery = (captureId: number) =>
  queryOptions({
    queryKey: ["sheet", captureId],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/sheet", { params: { path: { capture_id: captureId } } })),
  });

export const presetsQuery = queryOptions({
  queryKey: ["scale-presets"],
  queryFn: () => taken(client.GET("/api/scale-presets")),
  staleTime: Infinity,
});

/** Edges of the switching signals in a stretch of time: what rulers snap to. */
export const edgesQuery = (captureId: number, fromS: number, toS: number) =>
  queryOptions({
    queryKey: ["edges", captureId, fromS, toS],
    queryFn: () =>
      taken(
        client.GET("/api/captures/{capture_id}/edges", {
          params: { path: { capture_id: captureId }, query: { from_s: fromS, to_s: toS } },
        }),
      ),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });
