/** Beside the drawing: what else would allow more, the jobs that use the engine, its versions. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useNavigate } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ErrorNote, QuietButton } from "../../ui";

type Page = Schemas["EnginePage"];

function Note({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box borderTopWidth="1px" borderColor="line" mt="3" pt="2.5" fontSize="13.5px">
      <Text as="h2" fontWeight="680" fontSize="15px" mb="1">
        {title}
      </Text>
      {children}
    </Box>
  );
}

export function OpenPoints({ points }: { points: Schemas["OpenPoint"][] }) {
  if (!points.length) return null;
  return (
    <Note title="What else would help">
      <Box as="ul" listStyleType="none" data-testid="open-points">
        {points.map((point) => (
          <Box as="li" key={point.field} py="0.5">
            <b>{point.title}</b>: {point.allows}.
          </Box>
        ))}
      </Box>
    </Note>
  );
}

/** Jobs keep the version they were opened with until somebody moves them on. */
export function EngineJobs({ page }: { page: Page }) {
  const changes = useChanges();
  const newest = page.versions[0];
  const move = useMutation({
    mutationFn: (jobId: number) =>
      taken(client.PUT("/api/jobs/{job_id}/engine", { params: { path: { job_id: jobId } }, body: { engine_id: newest?.id ?? page.engine.id } })),
    onSuccess: changes.engineOfJobChanged,
  });
  return (
    <Note title="Jobs">
      {page.jobs.length === 0 && <Remove page={page} />}
      {page.jobs.map((job) => (
        <Flex key={job.id} gap="3" align="center" py="0.5">
          <Link to={`/jobs/${String(job.id)}`}>
            <Box as="span" textDecoration="underline" display="inline-block" lineHeight="26px">
              {job.vehicle}
            </Box>
          </Link>
          <Text color="mute">version {job.version}</Text>
          {newest && job.version < newest.version && (
            <QuietButton h="26px" loading={move.isPending} onClick={() => move.mutate(job.id)}>
              Read with version {newest.version}
            </QuietButton>
          )}
        </Flex>
      ))}
      {move.isError && <ErrorNote error={move.error} onClose={() => move.reset()} />}
      <Text color="mute" mt="1">
        What a capture shows of a wheel or cam that is not described here is offered as a profile on the Phase station.
      </Text>
    </Note>
  );
}

/** An engine that no job needs can go, with all its versions. */
function Remove({ page }: { page: Page }) {
  const changes = useChanges();
  const navigate = useNavigate();
  const remove = useMutation({
    mutationFn: () => taken(client.DELETE("/api/engines/{engine_id}", { params: { path: { engine_id: page.engine.id } } })),
    onSuccess: async () => {
      await navigate("/engines");
      await changes.engineStored();
    },
  });
  const ask = () => {
    if (window.confirm(`Erase ${page.engine.name} with all its versions? It cannot be brought back.`)) remove.mutate();
  };
  return (
    <>
      <Flex gap="3" align="center" wrap="wrap">
        <Text color="mute">No job uses this engine.</Text>
        <QuietButton onClick={ask} loading={remove.isPending}>
          Erase this engine
        </QuietButton>
      </Flex>
      {remove.isError && <ErrorNote error={remove.error} onClose={() => remove.reset()} />}
    </>
  );
}

export function Versions({ page }: { page: Page }) {
  return (
    <Note title="Versions">
      {page.versions.map((version) => (
        <Box key={version.id} py="1" data-testid="version">
          <Flex gap="2">
            {version.id === page.engine.id ? (
              <b>Version {version.version}, shown</b>
            ) : (
              <Link to={`/engines/${String(version.id)}`}>
                <Box as="span" textDecoration="underline" display="inline-block" lineHeight="26px">
                  Version {version.version}
                </Box>
              </Link>
            )}
            <Text color="mute">{version.created_at.slice(0, 16).replace("T", " ")}</Text>
          </Flex>
          {version.changes.slice(0, 8).map((change) => (
            <Text key={change.field} color="mute">
              {change.title}: {change.before ?? "not known"} → {change.after ?? "taken out"}
            </Text>
          ))}
          {version.changes.length > 8 && <Text color="mute">and {version.changes.length - 8} more</Text>}
        </Box>
      ))}
    </Note>
  );
}
