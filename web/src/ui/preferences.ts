/** What somebody has set for themselves on this screen; kept by the browser, so that each screen has its own. */
import { useSyncExternalStore } from "react";

export type PressureUnit = "bar" | "psi" | "kPa";
export type AngleUnit = "degrees" | "forwards" | "backwards";

export type Preferences = {
  pressure: PressureUnit;
  /** In what the Phase station reads first. */
  angle: AngleUnit;
  /** Commands of one letter, digit or sign; arrows, Enter and Escape always work. */
  letterKeys: boolean;
};

const KEY = "phasko-preferences";
const FIRST: Preferences = { pressure: "bar", angle: "degrees", letterKeys: true };
const ALLOWED: { [K in keyof Preferences]: readonly Preferences[K][] } = {
  pressure: ["bar", "psi", "kPa"],
  angle: ["degrees", "forwards", "backwards"],
  letterKeys: [true, false],
};

const listeners = new Set<() => void>();
let held: { text: string | null; read: Preferences } | null = null;

/** As they are now; what a browser keeps may be of another version, or nonsense. */
export function preferences(): Preferences {
  const text = localStorage.getItem(KEY);
  // The same object while nothing has changed: what reads it is only drawn anew when something has.
  if (held === null || held.text !== text) held = { text, read: readPreferences(text) };
  return held.read;
}

export function readPreferences(text: string | null): Preferences {
  const found = parsed(text);
  const kept = <K extends keyof Preferences>(key: K): Preferences[K] => {
    const value = found[key] as Preferences[K];
    return ALLOWED[key].includes(value) ? value : FIRST[key];
  };
  return { pressure: kept("pressure"), angle: kept("angle"), letterKeys: kept("letterKeys") };
}

function parsed(text: string | null): Record<string, unknown> {
  try {
    const found: unknown = JSON.parse(text ?? "{}");
    return typeof found === "object" && found !== null ? (found as Record<string, unknown>) : {};
  } catch {
    return {};
  }
}

export function setPreference<K extends keyof Preferences>(key: K, value: Preferences[K]): void {
  localStorage.setItem(KEY, JSON.stringify({ ...preferences(), [key]: value }));
  listeners.forEach((tell) => tell());
}

function listen(tell: () => void): () => void {
  listeners.add(tell);
  window.addEventListener("storage", tell);
  return () => {
    listeners.delete(tell);
    window.removeEventListener("storage", tell);
  };
}

export function usePreferences(): Preferences {
  return useSyncExternalStore(listen, preferences);
}
