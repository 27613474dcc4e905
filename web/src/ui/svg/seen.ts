import { type RefObject, useEffect, useState } from "react";

/** Whether at least a third of an element (or a third of the window) is in view. */
export function useSeen(ref: RefObject<Element | null>): boolean {
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const watch = new IntersectionObserver(
      (entries) => {
        const last = entries.at(-1);
        if (last) setSeen(last.intersectionRatio > 0.33 || last.intersectionRect.height > window.innerHeight / 3);
      },
      { threshold: [0, 0.1, 0.2, 0.34, 0.5, 0.75, 1] },
    );
    watch.observe(element);
    return () => watch.disconnect();
  }, [ref]);
  return seen;
}
