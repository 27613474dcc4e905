/** A job: route on the left, station in the middle, the case on the right. */
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, Outlet, useLocation, useNavigate, useParams } from "react-router";

import { PRACTISING } from "../../api/base";
import type { Schemas } from "../../api/client";
import { analysisQuery, capturesQuery, isRunning, jobQuery, recordingQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { ErrorNote, useKeys, Waiting } from "../../ui";
import { CasePanel } from "../call";
import { PracticePanel } from "../practice";
import { RecordSide } from "../record";
import { Route } from "./Route";
import { STATIONS } from "./stations";

export function JobPage() {
  const { jobId: text } = useParams();
  const jobId = Number(text);
  const job = useQuery(jobQuery(jobId));
  const captures = useQuery({ ...capturesQuery(jobId), enabled: job.isSuccess });
  const analysis = useQuery({ ...analysisQuery(jobId), enabled: job.isSuccess });
  const recording = useQuery({ ...recordingQuery(jobId), enabled: job.isSuccess });
  const { pathname } = useLocation();
  const [caseOpen, setCase] = useState(false);
  // While it is recorded the hook-up stands beside it; the case does not judge a recording that still runs.
  const running = isRunning(recording.data);
  const beside = running && pathname.endsWith("/captures") && !caseOpen;
  useKeys({ c: () => setCase(!caseOpen) }, running && pathname.endsWith("/captures"));
  const navigate = useNavigate();
  const here = STATIONS.find((station) => pathname.endsWith(`/${station.id}`))?.name ?? "Job";
  usePutHeader(job.data && <JobHeader job={job.data} />, JSON.stringify(job.data ?? jobId), job.data ? `${here}, ${job.data.vehicle}` : here);
  useKeys(Object.fromEntries(STATIONS.map((s) => [String(s.number), () => void navigate(`/jobs/${jobId}/${s.id}`)])));
  if (job.isPending) return <Box p="8"><Waiting>Opening the job</Waiting></Box>;
  if (job.isError)
    return (
      <Box p="8">
        <ErrorNote error={job.error} onRetry={() => void job.refetch()} />
        <Link to="/">To the bay board</Link>
      </Box>
    );
  return (
    <Grid
      data-frame
      h="full"
      minH="0"
      templateColumns={{ base: "minmax(0, 1fr)", md: "132px minmax(0, 1fr)", lg: "186px minmax(0, 1fr) auto" }}
      templateRows={{ base: "auto minmax(0, 1fr) auto", md: "minmax(0, 1fr) auto", lg: "minmax(0, 1fr)" }}
    >
      <Box
        as="nav"
        aria-label="Route"
        gridRow={{ base: "auto", md: "1 / -1" }}
        borderRightWidth={{ base: "0", md: "1px" }}
        borderBottomWidth={{ base: "1px", md: "0" }}
        borderColor="line"
        overflow="auto"
        py={{ base: "1", md: "4" }}
        px={{ base: "2", lg: "3" }}
      >
        <Route
          job={job.data}
          captures={captures.data}
          analysis={analysis.data ?? null}
          recording={running ? (recording.data ?? null) : null}
          reading={captures.isPending || analysis.isPending}
        />
      </Box>
      <Box as="main" id="content" tabIndex={-1} overflowY="auto" px={{ base: "3", md: "4.5" }} py="3.5" minW="0">
        <Outlet context={{ job: job.data } satisfies JobContext} />
      </Box>
      {beside && recording.data ? <RecordSide jobId={jobId} view={recording.data} onCase={() => setCase(true)} /> : PRACTISING ? <PracticePanel jobId={jobId} /> : <CasePanel analysis={analysis} />}
    </Grid>
  );
}

export type JobContext = { job: Schemas["JobSummary"] };

function JobHeader({ job }: JobContext) {
  return (
    <>
      <Text truncate minW={{ base: "0", xl: "120px" }}>
        <b>{job.vehicle}</b> {job.make_model && `${job.make_model}, `}
        <Link to={`/engines/${String(job.engine.id)}`} data-testid="engine-link">
          <Box as="span" textDecoration="underline" textDecorationColor="var(--chakra-colors-line)">
            {job.engine.name}
          </Box>
        </Link>
      </Text>
      {[job.complaint, ...job.codes.slice(0, CODES_SHOWN), ...moreCodes(job.codes)].filter(Boolean).map((tag) => (
        <Flex
          key={tag}
          flex={tag === job.complaint ? "0 4 auto" : "none"}
          display={{ base: "none", xl: "flex" }}
          borderWidth="1px"
          borderColor="line"
          rounded="sm"
          px="2"
          fontSize="13px"
          color="mute"
          minW="0"
        >
          <Text truncate>{tag}</Text>
        </Flex>
      ))}
    </>
  );
}

const CODES_SHOWN = 2;

/** The first codes name the trouble; how many there are besides stands on the complaint. */
function moreCodes(codes: string[]): string[] {
  return codes.length > CODES_SHOWN ? [`+ ${String(codes.length - CODES_SHOWN)}`] : [];
}
