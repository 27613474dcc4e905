/** A picture that follows a hand: one question on its way at a time, and always the newest one next. */
import { useEffect, useRef, useState } from "react";

import { client, type Schemas, taken } from "../../../api/client";

export type Asked = Schemas["BenchAsked"];
export type Picture = Schemas["BenchPicture"];

type Shown = { picture: Picture | null; error: Error | null; askedAt: number };

/** The picture of `asked`, a moment late; the last one stays while the next is drawn. */
export function useMovingPicture(asked: Asked | null): Shown {
  const [shown, setShown] = useState<Shown>({ picture: null, error: null, askedAt: 0 });
  const next = useRef<{ asked: Asked; at: number } | null>(null);
  const busy = useRef(false);
  const gone = useRef(false);
  const told = JSON.stringify(asked);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  useEffect(() => {
    const wanted = JSON.parse(told) as Asked | null;
    if (wanted === null) return;
    next.current = { asked: wanted, at: performance.now() };
    if (busy.current) return;
    busy.current = true;
    const follow = async () => {
      while (next.current !== null && !gone.current) {
        const { asked: body, at } = next.current;
        next.current = null;
        try {
          const picture = await taken(client.POST("/api/practice/bench/picture", { body }));
          setShown({ picture, error: null, askedAt: at });
        } catch (error) {
          setShown((before) => ({ ...before, error: error as Error }));
        }
      }
      busy.current = false;
    };
    void follow();
  }, [told]);
  return shown;
}
