/** What the end of a job, the logbook and photos ask for; keys as in `queries.ts`. */
import { queryOptions } from "@tanstack/react-query";

import { client, taken } from "./client";
import type { paths } from "./schema";

export type Search = NonNullable<paths["/api/logbook"]["get"]["parameters"]["query"]>;

/** Jobs by words and filters. */
export const logbookQuery = (search: Search) =>
  queryOptions({
    queryKey: ["board", "logbook", search],
    queryFn: () => taken(client.GET("/api/logbook", { params: { query: search } })),
    placeholderData: (previous) => previous,
  });

/** What closed jobs teach. */
export const learningQuery = queryOptions({
  queryKey: ["board", "learning"],
  queryFn: () => taken(client.GET("/api/learning")),
});

export const workshopNameQuery = queryOptions({
  queryKey: ["workshop-name"],
  queryFn: () => taken(client.GET("/api/workshop-name")),
});

/** Every job of the same vehicle. */
export const timelineQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "timeline"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/timeline", { params: { path: { job_id: jobId } } })),
  });

/** The hand-over as one document. */
export const handOverQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "hand-over"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/hand-over", { params: { path: { job_id: jobId } } })),
    placeholderData: (previous) => previous,
  });

export type PageKind = "full" | "owner" | "first";
export type Paper = "A4" | "letter";

/** One of its pages as HTML. */
export const shownPageQuery = (jobId: number, page: PageKind, paper: Paper) =>
  queryOptions({
    queryKey: ["job", jobId, "hand-over", page, paper],
    queryFn: () =>
      taken(client.GET("/api/jobs/{job_id}/hand-over/shown", { params: { path: { job_id: jobId }, query: { page, paper } } })),
    placeholderData: (previous) => previous,
  });

/** Words for what may be found on opening, and for parts. */
export const handOverWordsQuery = queryOptions({
  queryKey: ["hand-over-words"],
  queryFn: () => taken(client.GET("/api/hand-over-words")),
  staleTime: Infinity,
});

export const photosQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "photos"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/photos", { params: { path: { job_id: jobId } } })),
  });
