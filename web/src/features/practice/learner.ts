/** Who practises on this screen, and in which class; kept by the browser. */
import { useSyncExternalStore } from "react";

export type Learner = { person: string; className: string };

const KEY = "phasko-learner";
const NOBODY: Learner = { person: "", className: "" };
const listeners = new Set<() => void>();
let held: { text: string | null; learner: Learner } | null = null;

function learner(): Learner {
  const text = localStorage.getItem(KEY);
  if (held === null || held.text !== text) held = { text, learner: readLearner(text) };
  return held.learner;
}

/** What a browser keeps may be of another version, or nonsense. */
export function readLearner(text: string | null): Learner {
  try {
    const found = JSON.parse(text ?? "{}") as Partial<Record<keyof Learner, unknown>> | null;
    const kept = (value: unknown) => (typeof value === "string" ? value.slice(0, 60) : "");
    return { person: kept(found?.person), className: kept(found?.className) };
  } catch {
    return NOBODY;
  }
}

export function setLearner(next: Learner): void {
  localStorage.setItem(KEY, JSON.stringify(next));
  listeners.forEach((tell) => tell());
}

export function useLearner(): Learner {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, learner);
}
