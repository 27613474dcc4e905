/** What practice asks the server for. */
import { queryOptions } from "@tanstack/react-query";

import { client, taken } from "../../api/client";

export const practiceQuery = (person: string, className: string) =>
  queryOptions({
    queryKey: ["practice", person, className],
    queryFn: () => taken(client.GET("/api/practice", { params: { query: { person, class_name: className } } })),
    enabled: person !== "" && className !== "",
    placeholderData: (previous) => previous,
  });

/** Clock, bill and what was done: everything that changes the job changes it. */
export const attemptQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "attempt"],
    queryFn: () => taken(client.GET("/api/practice/jobs/{job_id}", { params: { path: { job_id: jobId } } })),
  });

export const truthQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "truth"],
    queryFn: () => taken(client.GET("/api/practice/jobs/{job_id}/truth", { params: { path: { job_id: jobId } } })),
  });

export const benchQuery = queryOptions({
  queryKey: ["bench"],
  queryFn: () => taken(client.GET("/api/practice/bench")),
  staleTime: Infinity,
});

export const lessonsQuery = queryOptions({
  queryKey: ["lessons"],
  queryFn: () => taken(client.GET("/api/practice/lessons")),
  staleTime: Infinity,
});

export const lessonQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "lesson"],
    queryFn: () => taken(client.GET("/api/practice/jobs/{job_id}/lesson", { params: { path: { job_id: jobId } } })),
  });
