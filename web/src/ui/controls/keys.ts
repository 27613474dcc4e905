/** Single-key commands. They rest while somebody types or a dialog is open, and leave the browser's own alone;
 * those of one letter, digit or sign can be switched off (WCAG 2.2, 2.1.4).
 *
 * What was put on screen last is asked first: a key of the signals that are open is theirs before it is the page's.
 */
import { useEffect, useRef } from "react";

import { preferences } from "../preferences";

export type Keys = Record<string, () => void>;

const asked: { current: Keys }[] = [];

function listen(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
  if (event.key.length === 1 && !preferences().letterKeys) return;
  const target = event.target as HTMLElement;
  if (target.closest("input, textarea, select, [contenteditable]") ?? document.querySelector("[role=dialog]")) return;
  if ((event.key === "Enter" || event.key === " ") && target.closest("button, a, summary")) return;
  const run = asked.findLast((one) => commandOf(one.current, event))?.current;
  const command = run && commandOf(run, event);
  if (!command) return;
  event.preventDefault();
  command();
}

function commandOf(keys: Keys, event: KeyboardEvent): (() => void) | undefined {
  const letter = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return (event.shiftKey ? keys[`shift+${letter}`] : undefined) ?? keys[letter];
}

/** These keys work while the component is on screen; `active` false lets them rest. */
export function useKeys(keys: Keys, active = true): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    if (!active) return;
    if (!asked.length) window.addEventListener("keydown", listen);
    asked.push(latest);
    return () => {
      asked.splice(asked.indexOf(latest), 1);
      if (!asked.length) window.removeEventListener("keydown", listen);
    };
  }, [active]);
}
