/** What went wrong and was caught nowhere: a person sees it all the same, over whatever screen is there. */
import { Box } from "@chakra-ui/react";
import { useEffect, useState } from "react";

import { ApiError } from "../api/client";
import { ErrorNote } from "../ui";

export function Unseen() {
  const [error, setError] = useState<Error | null>(null);
  useEffect(() => {
    const thrown = (event: ErrorEvent) => {
      // The browser's own note that a picture was measured twice in one frame; nothing was lost.
      if (!event.message.includes("ResizeObserver loop")) setError(told(event.error, event.message));
    };
    const rejected = (event: PromiseRejectionEvent) => setError(told(event.reason, "Something failed"));
    window.addEventListener("error", thrown);
    window.addEventListener("unhandledrejection", rejected);
    return () => {
      window.removeEventListener("error", thrown);
      window.removeEventListener("unhandledrejection", rejected);
    };
  }, []);
  if (!error) return null;
  return (
    <Box position="fixed" bottom="4" left="4" right="4" maxW="720px" zIndex="toast" data-testid="unseen">
      <ErrorNote error={error} onClose={() => setError(null)} />
    </Box>
  );
}

/** In words: the server's own, or what the browser says with where things stand. */
export function told(reason: unknown, otherwise: string): Error {
  if (reason instanceof ApiError) return reason;
  const what = reason instanceof Error ? reason.message : otherwise;
  return new Error(`This page stumbled: ${what}. What is stored is safe; load the page again if it does not go on.`);
}
