/** Where the focus goes when what held it is taken away: to what took its place, else to what stood beside it, else to
 * the content of the page. Without that a keyboard begins at the top of the page again after every "Take out". */
import { useEffect } from "react";
import { useLocation } from "react-router";

const FOCUSABLE = "a[href], button:not([disabled]), input:not([disabled]):not([type=hidden]):not([hidden]), select:not([disabled]), textarea:not([disabled]), summary, [tabindex='0']";

/** One step down to what held the focus: the parent, and which of its children was the way. */
type Step = { parent: Element; place: number };

export function useKeptFocus(): void {
  const { pathname } = useLocation();
  useEffect(() => {
    let held: Element | null = null;
    let steps: Step[] = [];
    const note = (event: FocusEvent) => {
      held = event.target as Element;
      steps = [];
      for (let at: Element = held; at.parentElement; at = at.parentElement)
        steps.push({ parent: at.parentElement, place: [...at.parentElement.children].indexOf(at) });
    };
    const look = () => {
      if (!held || held.isConnected || document.activeElement !== document.body) return;
      held = null;
      const next = successor(steps);
      next?.focus({ preventScroll: next.tagName === "MAIN" });
    };
    const watch = new MutationObserver(look);
    watch.observe(document.body, { childList: true, subtree: true });
    document.addEventListener("focusin", note);
    return () => {
      watch.disconnect();
      document.removeEventListener("focusin", note);
    };
  }, []);
  useEffect(() => {
    const soon = requestAnimationFrame(() => {
      if (document.activeElement === document.body) focusContent();
    });
    return () => cancelAnimationFrame(soon);
  }, [pathname]);
}

function successor(steps: Step[]): HTMLElement | null {
  for (const { parent, place } of steps) {
    if (!parent.isConnected) continue;
    // Where the whole content went, another screen came: its beginning is no successor of what was pressed.
    if (!parent.closest("main, aside, nav, header, [role=dialog]") || parent.tagName === "MAIN") break;
    const near = [parent.children[place], parent.children[place - 1], parent];
    const found = near.map((one) => one && firstIn(one)).find(Boolean);
    if (found) return found;
  }
  return content();
}

function firstIn(element: Element): HTMLElement | null {
  if (element.matches(FOCUSABLE)) return element as HTMLElement;
  return element.querySelector<HTMLElement>(FOCUSABLE);
}

/** Past bar and route, to what the screen is about. */
export function focusContent(): void {
  content()?.focus({ preventScroll: true });
}

function content(): HTMLElement | null {
  const main = document.querySelector<HTMLElement>("main");
  if (main) main.tabIndex = -1;
  return main;
}
