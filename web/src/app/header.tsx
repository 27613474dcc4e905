/** Lets the screen below put its own words into the bar on top. */
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";

const Slot = createContext<{ content: ReactNode; put: (content: ReactNode) => void }>({
  content: null,
  put: () => undefined,
});

export function HeaderSlotProvider({ children }: { children: ReactNode }) {
  const [content, put] = useState<ReactNode>(null);
  return <Slot.Provider value={{ content, put }}>{children}</Slot.Provider>;
}

export function useHeader(): ReactNode {
  return useContext(Slot).content;
}

/** Shows `content` in the bar as long as the calling screen is there, and its `title` in the browser's; `key` says when
 * it changed. */
export function usePutHeader(content: ReactNode, key: string, title: string): void {
  const { put } = useContext(Slot);
  useEffect(() => {
    document.title = title ? `${title} · Phasko` : "Phasko";
  }, [title]);
  useEffect(() => {
    put(content);
    return () => put(null);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- content is a new object every time; key tells a change
  }, [key]);
}
