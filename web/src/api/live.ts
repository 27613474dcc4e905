/** What colleagues change, heard as soon as it is stored: what it spoils is asked for again. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import { PRACTISING } from "./base";
import { useChanges } from "./changes";
import type { Schemas } from "./client";
import { sessionQuery } from "./queries";

const AGAIN_MS = 5000;

/** Listens while this page is in view: a browser holds few connections to one server, and a page nobody sees needs
 * none. What was missed meanwhile is told when it listens again. */
export function useLive(): void {
  const session = useQuery(sessionQuery);
  const entry = session.data?.entry ?? null;
  const heard = useRef<number | null>(null);
  const opened = useRef(false);
  const changes = useRef(useChanges());
  const listens = !PRACTISING && entry !== null;
  if (heard.current === null) heard.current = entry;
  useEffect(() => {
    if (!listens) return;
    let source: EventSource | null = null;
    let again: number | undefined;
    const stop = () => {
      window.clearTimeout(again);
      source?.close();
      source = null;
    };
    const listen = () => {
      stop();
      if (document.visibilityState === "hidden") return;
      const now = new EventSource(`/api/changes?since=${String(heard.current ?? 0)}`);
      now.addEventListener("changed", (event: MessageEvent<string>) => {
        const change = JSON.parse(event.data) as Schemas["Change"];
        heard.current = change.entry;
        void changes.current.heardOf(change);
      });
      now.onopen = () => {
        if (opened.current) void changes.current.listenedAgain();
        opened.current = true;
      };
      now.onerror = () => {
        // A stream that broke off is opened again by the browser; one that was refused is not.
        if (now.readyState !== EventSource.CLOSED) return;
        void changes.current.streamRefused();
        again = window.setTimeout(listen, AGAIN_MS);
      };
      source = now;
    };
    listen();
    document.addEventListener("visibilitychange", listen);
    return () => {
      document.removeEventListener("visibilitychange", listen);
      stop();
    };
  }, [listens]);
}
