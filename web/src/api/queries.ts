/** What the screens ask for, each under one key. Everything about a capture stands under `["capture", id, ...]`, about a
 * job under `["job", id, ...]`; `changes.ts` knows which of them a change makes stale. */
import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";

import { client, taken, takenTagged } from "./client";

export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: () => taken(client.GET("/api/session")),
});

/** The open jobs; closed ones are in the logbook. */
export const boardQuery = queryOptions({
  queryKey: ["board"],
  queryFn: () => taken(client.GET("/api/logbook", { params: { query: { state: "open", most: 200 } } })),
});

export const enginesQuery = queryOptions({
  queryKey: ["engines"],
  queryFn: () => taken(client.GET("/api/engines")),
});

export const enginePageQuery = (engineId: number) =>
  queryOptions({
    queryKey: ["engines", engineId],
    queryFn: () => enginePageNow(engineId),
  });

/** The same as it is stored at this moment. */
export const enginePageNow = (engineId: number) =>
  taken(client.GET("/api/engines/{engine_id}/page", { params: { path: { engine_id: engineId } } }));

/** A profile while it is written: its faults, or its drawing. */
export const draftQuery = (document: Record<string, unknown>) =>
  queryOptions({
    queryKey: ["engine-draft", document],
    queryFn: () => taken(client.POST("/api/engines/draft", { body: document })),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });

export const jobQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: jobId } } })),
  });

/** What a person knows of a job beside its captures (limit, costs, minutes, codes, complaint), and its version. */
export const jobDocumentQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "document"],
    queryFn: () => documentNow(jobId),
  });

/** The same as it is stored at this moment. */
export const documentNow = (jobId: number) =>
  takenTagged(client.GET("/api/jobs/{job_id}/document", { params: { path: { job_id: jobId } } }));

/** A job's codes in words, its misfires as a pattern, and what the loss of each signal does. */
export const complaintQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "complaint"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/complaint", { params: { path: { job_id: jobId } } })),
    placeholderData: (previous) => previous,
  });

/** What to test first, second, third. */
export const planQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "plan"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/plan", { params: { path: { job_id: jobId } } })),
    placeholderData: (previous) => previous,
  });

/** The hook-up for a question; for what was chosen last where none is said. */
export const hookUpQuery = (jobId: number, question: string | null = null, channels: "2" | "4" | "8" | null = null) =>
  queryOptions({
    queryKey: ["job", jobId, "hook-up", question, channels],
    queryFn: () =>
      taken(client.GET("/api/jobs/{job_id}/hook-up", { params: { path: { job_id: jobId }, query: { question, channels } } })),
    placeholderData: (previous) => previous,
  });

/** How the job's recording stands; asked three times a second while it runs. */
export const recordingQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["recording", jobId],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/recording", { params: { path: { job_id: jobId } } })),
    refetchInterval: (query) => (isRunning(query.state.data) ? 300 : false),
  });

/** Whether a recording is on its way. */
export function isRunning(recording: { phase: string } | null | undefined): boolean {
  return recording !== null && recording !== undefined && ["starting", "recording", "stopping"].includes(recording.phase);
}

/** The last moment of a running recording, to draw. */
export const recordingStripQuery = (jobId: number, seconds: number) =>
  queryOptions({
    queryKey: ["recording", jobId, "strip", seconds],
    queryFn: () =>
      taken(client.GET("/api/jobs/{job_id}/recording/strip", { params: { path: { job_id: jobId }, query: { seconds, points: 460 } } })),
    refetchInterval: 100,
    staleTime: 0,
  });

/** A sensor tested on a stand. */
export const sensorTestQuery = (captureId: number) =>
  queryOptions({
    queryKey: ["capture", captureId, "sensor-test"],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/sensor-test", { params: { path: { capture_id: captureId } } })),
  });

/** What changed from one capture of a job to another. */
export const changesQuery = (jobId: number, before: number, after: number) =>
  queryOptions({
    queryKey: ["job", jobId, "between", before, after],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/between", { params: { path: { job_id: jobId }, query: { before, after } } })),
  });

/** The public titles of trouble codes; they ship with the program. */
export const codeTitlesQuery = queryOptions({
  queryKey: ["code-titles"],
  queryFn: () => taken(client.GET("/api/code-titles")),
  staleTime: Infinity,
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
    queryKey: ["capture", captureId, "strip"],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/strip", { params: { path: { capture_id: captureId } } })),
  });

/** Every phaser that was driven in a capture, as a picture. */
export const sweepsQuery = (captureId: number) =>
  queryOptions({
    queryKey: ["capture", captureId, "sweeps"],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/sweeps", { params: { path: { capture_id: captureId } } })),
  });

/** The known good captures of a job's kind of engine. */
export const libraryQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "known-good"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/known-good", { params: { path: { job_id: jobId } } })),
  });

/** What the known good engines say beyond their profile. */
export const proposalQuery = (engineId: number) =>
  queryOptions({
    queryKey: ["engines", engineId, "proposal"],
    queryFn: () => taken(client.GET("/api/engines/{engine_id}/proposal", { params: { path: { engine_id: engineId } } })),
  });

export const sealQuery = (captureId: number) =>
  queryOptions({
    queryKey: ["capture", captureId, "seal"],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/seal", { params: { path: { capture_id: captureId } } })),
  });

export const cylinderQuery = (captureId: number) =>
  queryOptions({
    queryKey: ["capture", captureId, "cylinder"],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/cylinder", { params: { path: { capture_id: captureId } } })),
  });

export const looksQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "looks"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/looks", { params: { path: { job_id: jobId } } })),
  });

export const roadTestsQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "road-tests"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/road-tests", { params: { path: { job_id: jobId } } })),
  });

export const firingOrderQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "firing-order"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/firing-order", { params: { path: { job_id: jobId } } })),
  });

/** What lies between two rulers. */
export const betweenQuery = (captureId: number, aS: number, bS: number) =>
  queryOptions({
    queryKey: ["capture", captureId, "between", aS, bS],
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
    queryKey: ["capture", captureId, "sheet"],
    queryFn: () => taken(client.GET("/api/captures/{capture_id}/sheet", { params: { path: { capture_id: captureId } } })),
  });

export const inboxQuery = queryOptions({
  queryKey: ["inbox"],
  queryFn: () => taken(client.GET("/api/inbox")),
});

export const presetsQuery = queryOptions({
  queryKey: ["scale-presets"],
  queryFn: () => taken(client.GET("/api/scale-presets")),
  staleTime: Infinity,
});

/** Edges of the switching signals in a stretch of time: what rulers snap to. */
export const edgesQuery = (captureId: number, fromS: number, toS: number) =>
  queryOptions({
    queryKey: ["capture", captureId, "edges", fromS, toS],
    queryFn: () =>
      taken(
        client.GET("/api/captures/{capture_id}/edges", {
          params: { path: { capture_id: captureId }, query: { from_s: fromS, to_s: toS } },
        }),
      ),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });

export const peopleQuery = queryOptions({
  queryKey: ["people"],
  queryFn: () => taken(client.GET("/api/people")),
});

/** Why each number of a job's result is what it is. */
export const whyQuery = (jobId: number) =>
  queryOptions({
    queryKey: ["job", jobId, "why"],
    queryFn: () => taken(client.GET("/api/jobs/{job_id}/why", { params: { path: { job_id: jobId } } })),
  });

export const glossaryQuery = queryOptions({
  queryKey: ["glossary"],
  queryFn: () => taken(client.GET("/api/glossary")),
  staleTime: Infinity,
});

/** With what every new job begins. */
export const jobDefaultsQuery = queryOptions({
  queryKey: ["job-defaults"],
  queryFn: () => taken(client.GET("/api/job-defaults")),
});

export const takenOutQuery = queryOptions({
  queryKey: ["taken-out"],
  queryFn: () => taken(client.GET("/api/taken-out")),
});

/** Who did what, newest first, page by page. */
export const logQuery = infiniteQueryOptions({
  queryKey: ["log"],
  queryFn: ({ pageParam }) => taken(client.GET("/api/log", { params: { query: pageParam === null ? {} : { before: pageParam } } })),
  initialPageParam: null as number | null,
  getNextPageParam: (page) => page.older,
});
