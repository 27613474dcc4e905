/** What a station of a job tells about itself: route, page and the list of keys are made from it. */
import type { ComponentType } from "react";

import type { Schemas } from "../api/client";

export type JobState = {
  job: Schemas["JobSummary"];
  captures: Schemas["ImportedCapture"][] | undefined;
  analysis: Schemas["JobAnalysis"] | null;
  /** The recording that runs now. */
  recording: Schemas["RecordingView"] | null;
};

/** A key and what it does there. */
export type KeyWords = readonly [key: string, does: string];

export type Station = {
  /** Its place in the address. */
  id: string;
  name: string;
  component: ComponentType<{ job: Schemas["JobSummary"] }>;
  /** What is known there, in a few words for the route; done once something is. */
  note: (state: JobState) => { done: boolean; note: string };
  keys: readonly KeyWords[];
};
