/** What the screens ask for that concerns many jobs at once, and the programs that come in. */
import { queryOptions } from "@tanstack/react-query";

import { client, taken } from "./client";

/** With which tokens programs come in. */
export const tokensQuery = queryOptions({
  queryKey: ["people", "tokens"],
  queryFn: () => taken(client.GET("/api/tokens")),
});

/** How many jobs an older version called. */
export const olderCallsQuery = queryOptions({
  queryKey: ["rejudging", "count"],
  queryFn: () => taken(client.GET("/api/rejudging/count")),
});

/** Jobs that an older version called, and what this one would say of them. */
export const rejudgingQuery = queryOptions({
  queryKey: ["rejudging"],
  queryFn: () => taken(client.GET("/api/rejudging")),
  refetchInterval: (query) => (query.state.data?.running ? 1000 : false),
});

/** Whether a fleet is being analysed, and how far it is. */
export const fleetQuery = queryOptions({
  queryKey: ["fleet"],
  queryFn: () => taken(client.GET("/api/fleet")),
  refetchInterval: (query) => (query.state.data?.running ? 1000 : false),
});

/** What its tables show. */
export const fleetKindsQuery = queryOptions({
  queryKey: ["fleet", "kinds"],
  queryFn: () => taken(client.GET("/api/fleet/kinds")),
  staleTime: Infinity,
});
