/** Files that were dropped on the page, whatever screen was open, until the Captures of their job take them. */
import { useEffect } from "react";

const waiting = new Map<number, File[]>();
const told = new Set<() => void>();

export function dropFiles(jobId: number, files: File[]): void {
  waiting.set(jobId, [...(waiting.get(jobId) ?? []), ...files]);
  told.forEach((tell) => tell());
}

/** Hands over what was dropped for this job, now and while the screen stays open. */
export function useDropped(jobId: number, take: (files: File[]) => void): void {
  useEffect(() => {
    const look = () => {
      const files = waiting.get(jobId);
      if (!files) return;
      waiting.delete(jobId);
      take(files);
    };
    look();
    told.add(look);
    return () => void told.delete(look);
  });
}
