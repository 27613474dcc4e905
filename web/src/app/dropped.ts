/** Files that were dropped on the page, whatever screen was open, until what they are for takes them. */
import { useEffect } from "react";

/** Captures go to the Captures of their job, photos to the station that is open. */
export type Kind = "captures" | "photos";

const waiting = new Map<string, File[]>();
const told = new Set<() => void>();

export function dropFiles(kind: Kind, jobId: number, files: File[]): void {
  if (!files.length) return;
  const place = `${kind} ${String(jobId)}`;
  waiting.set(place, [...(waiting.get(place) ?? []), ...files]);
  told.forEach((tell) => tell());
}

/** Hands over what was dropped for this job, now and while the screen stays open. */
export function useDropped(kind: Kind, jobId: number, take: (files: File[]) => void): void {
  useEffect(() => {
    const place = `${kind} ${String(jobId)}`;
    const look = () => {
      const files = waiting.get(place);
      if (!files) return;
      waiting.delete(place);
      take(files);
    };
    look();
    told.add(look);
    return () => void told.delete(look);
  });
}
