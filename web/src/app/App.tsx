/** Wires theme, server state and screens. */
import { ChakraProvider } from "@chakra-ui/react";
import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { ThemeProvider } from "next-themes";
import { createBrowserRouter, RouterProvider } from "react-router";

import { PRACTICE, PRACTISING } from "../api/base";
import { ApiError } from "../api/client";
import { sessionQuery } from "../api/queries";
import { BoardPage } from "../features/board";
import { EnginePage, EnginesPage } from "../features/engines";
import { FleetPage } from "../features/fleet";
import { HookUpPrintPage } from "../features/hookup";
import { JobPage, StationPage } from "../features/job";
import { LearningPage, LogbookPage, TimelinePage } from "../features/logbook";
import { FreeBenchPage, LessonPage, PracticePage } from "../features/practice";
import { SessionGate } from "../features/session";
import { SettingsPage } from "../features/settings";
import { UpdatesPage } from "../features/updates";
import { WorkshopPage } from "../features/workshop";
import { BrokenScreen } from "./BrokenScreen";
import { Frame } from "./Frame";
import { NotFound } from "./NotFound";
import { system } from "../ui/theme";

const queryClient: QueryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error) => {
      if (error instanceof ApiError && error.status === 401) void queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey });
    },
  }),
  defaultOptions: {
    queries: {
      retry: (count, error) => error instanceof ApiError && error.status === 0 && count < 2,
      staleTime: 5000,
    },
  },
});

const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <BrokenScreen />,
    children: [
      { path: "/", element: PRACTISING ? <PracticePage /> : <BoardPage /> },
      { path: "/jobs/:jobId", element: <JobPage />, errorElement: <BrokenScreen />, children: [{ path: ":station?", element: <StationPage /> }] },
      ...(PRACTISING
        ? [
            { path: "/lessons/:jobId", element: <LessonPage />, errorElement: <BrokenScreen /> },
            { path: "/bench", element: <FreeBenchPage />, errorElement: <BrokenScreen /> },
          ]
        : []),
      { path: "/jobs/:jobId/hook-up-page", element: <HookUpPrintPage />, errorElement: <BrokenScreen /> },
      { path: "/jobs/:jobId/vehicle", element: <TimelinePage />, errorElement: <BrokenScreen /> },
      { path: "/logbook", element: <LogbookPage />, errorElement: <BrokenScreen /> },
      { path: "/learning", element: <LearningPage />, errorElement: <BrokenScreen /> },
      { path: "/engines", element: <EnginesPage /> },
      { path: "/engines/:engineId", element: <EnginePage /> },
      { path: "/workshop", element: <WorkshopPage /> },
      { path: "/fleet", element: <FleetPage />, errorElement: <BrokenScreen /> },
      { path: "/updates", element: <UpdatesPage />, errorElement: <BrokenScreen /> },
      { path: "/settings", element: <SettingsPage /> },
      { path: "*", element: <NotFound /> },
    ],
  },
], { basename: PRACTISING ? PRACTICE : "/" });

export function App() {
  return (
    <ChakraProvider value={system}>
      <ThemeProvider attribute="class" defaultTheme="light" disableTransitionOnChange>
        <QueryClientProvider client={queryClient}>
          <SessionGate>
            <RouterProvider router={router} />
          </SessionGate>
        </QueryClientProvider>
      </ThemeProvider>
    </ChakraProvider>
  );
}
