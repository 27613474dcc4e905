/** Single-key commands. They rest while somebody types or a dialog is open, and leave the browser's own alone. */
import { useEffect, useRef } from "react";

export type Keys = Record<string, () => void>;

export function useKeys(keys: Keys): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      if (target.closest("input, textarea, select, [contenteditable]") ?? document.querySelector("[role=dialog]")) return;
      if ((event.key === "Enter" || event.key === " ") && target.closest("button, a, summary")) return;
      const letter = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const run = (event.shiftKey ? latest.current[`shift+${letter}`] : undefined) ?? latest.current[letter];
      if (run) {
        event.preventDefault();
        run();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
