/** One engine profile: its fields, its live drawing, what else would allow more, its versions. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useBlocker, useNavigate, useParams } from "react-router";

import { apiPath } from "../../api/base";
import { useChanges } from "../../api/changes";
import type { Schemas } from "../../api/client";
import { draftQuery, enginePageNow, enginePageQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { ActionButton, ErrorNote, OutdatedNote, QuietButton, useKeys, useSettled, Waiting } from "../../ui";
import { type Draft, NEW_ENGINE, textAt } from "./draft";
import { DriveDrawing, FiringDrawing, WheelDrawings } from "./drawing";
import { EngineForm } from "./EngineForm";
import { FormProvider } from "./fields";
import { storeProfile } from "./store";
import { EngineJobs, OpenPoints, Versions } from "./SideNotes";

export function EnginePage() {
  const { engineId } = useParams();
  const id = Number(engineId);
  const page = useQuery({ ...enginePageQuery(id), enabled: engineId !== "new" });
  usePutHeader(null, "engine", "Engine");
  const navigate = useNavigate();
  useKeys({ Escape: () => void navigate("/engines") });
  if (engineId === "new") return <Editor key="new" stored={NEW_ENGINE} page={null} />;
  if (page.isPending) return <Box p="6"><Waiting>Reading the profile</Waiting></Box>;
  if (page.isError) return <Box p="6"><ErrorNote error={page.error} onRetry={() => void page.refetch()} /></Box>;
  return <Editor key={engineId} stored={page.data.document as Draft} page={page.data} />;
}

function Editor({ stored, page }: { stored: Draft; page: Schemas["EnginePage"] | null }) {
  const [draft, setDraft] = useState<Draft>(stored);
  const changed = JSON.stringify(draft) !== JSON.stringify(stored);
  const reading = useQuery(draftQuery(useSettled(draft, 250)));
  const save = useSave();
  const [seen] = useState(page?.versions[0]?.version ?? null);
  const navigate = useNavigate();
  /** The version that a colleague stored meanwhile. */
  const seeNewest = async () => {
    if (!page) return;
    const now = await enginePageNow(page.engine.id);
    setDraft(stored);
    await navigate(`/engines/${String(now.versions[0]?.id ?? page.engine.id)}`);
  };
  useStay(changed && !save.isPending && !save.isSuccess);
  const [drawing, setDrawing] = useState<Schemas["EngineDrawing"] | null>(page?.reading.drawing ?? null);
  const fresh = reading.data?.drawing ?? null;
  if (fresh && fresh !== drawing) setDrawing(fresh);
  const faults = reading.data?.faults ?? [];
  const name = textAt(draft, ["name"]);
  const newer = page && name === page.engine.name ? (page.versions[0]?.version ?? 0) + 1 : null;
  return (
    <FormProvider value={{ draft, faults: page || changed ? faults : [], set: setDraft }}>
      <Flex as="main" h="full" direction="column">
        <Flex px={{ base: "4", lg: "6" }} py="3" gap="3" align="center" borderBottomWidth="1px" borderColor="line" wrap="wrap">
          <Box flex="1" minW="260px">
            <Text fontSize="13px" color="mute">
              <Link to="/engines">Engines</Link>
            </Text>
            <Text as="h1" fontSize="24px" fontWeight="720" lineHeight="1.2">
              {name || "New engine"}
              {page && (
                <Box as="span" color="mute" fontSize="15px" fontWeight="400" ml="3">
                  version {page.engine.version}
                  {page.engine.version !== page.versions[0]?.version && `, the newest is ${String(page.versions[0]?.version)}`}
                </Box>
              )}
            </Text>
          </Box>
          {page && (
            <QuietButton h="40px" asChild>
              <a href={apiPath(`/api/engines/${String(page.engine.id)}/file`)} download>
                Export as a file
              </a>
            </QuietButton>
          )}
          {changed && page && (
            <QuietButton h="40px" onClick={() => setDraft(stored)}>
              Undo changes
            </QuietButton>
          )}
          <ActionButton
            disabled={!changed || reading.isFetching || faults.length > 0}
            loading={save.isPending}
            onClick={() => save.mutate({ draft, from: newer === null ? null : seen })}
          >
            {newer === null ? "Save this engine" : `Save as version ${String(newer)}`}
          </ActionButton>
        </Flex>
        <Flex flex="1" minH="0" direction={{ base: "column", lg: "row" }} overflowY={{ base: "auto", lg: "hidden" }}>
          <Box flex={{ lg: "1" }} order={{ base: 2, lg: 1 }} minW="0" px={{ base: "4", lg: "6" }} pb="6" overflowY={{ lg: "auto" }}>
            {save.isError && (
              <OutdatedNote
                error={save.error}
                onMine={(version) => save.mutate({ draft, from: version })}
                onTheirs={() => void seeNewest()}
                onClose={() => save.reset()}
              />
            )}
            <EngineForm />
          </Box>
          <Box as="aside" order={{ base: 1, lg: 2 }} w={{ lg: "540px" }} flex="none" px="5" py="3" borderLeftWidth={{ lg: "1px" }} borderColor="line" overflowY={{ lg: "auto" }}>
            {(page ?? changed) && faults.length > 0 && <Faults faults={faults} />}
            {reading.isError && <ErrorNote error={reading.error} onRetry={() => void reading.refetch()} />}
            {drawing ? (
              <Box opacity={faults.length ? 0.45 : 1} data-testid="drawing">
                <Text color="mute" fontSize="13px" mb="1">
                  {drawing.index_known ? "As it stands at the firing TDC of cylinder 1, sensors on top" : "Tooth 1 at the sensor: the index is not known"}
                </Text>
                <WheelDrawings drawing={drawing} />
                <FiringDrawing drawing={drawing} />
                <DriveDrawing drawing={drawing} />
              </Box>
            ) : (
              <Text color="mute">Name, cylinders and firing order, and the engine is drawn here.</Text>
            )}
            {!faults.length && <OpenPoints points={reading.data?.open_points ?? page?.reading.open_points ?? []} />}
            {page && <EngineJobs page={page} />}
            {page && <Versions page={page} />}
          </Box>
        </Flex>
      </Flex>
    </FormProvider>
  );
}

function Faults({ faults }: { faults: Schemas["DocumentFault"][] }) {
  return (
    <Box role="status" borderLeftWidth="4px" borderColor="late" bg="lateSoft" px="3" py="2" mb="3" rounded="sm" data-testid="faults">
      <Text fontWeight="650">Not complete yet</Text>
      {faults.slice(0, 5).map((fault) => (
        <Text key={fault.field + fault.text} fontSize="13.5px">
          {fault.text}
        </Text>
      ))}
    </Box>
  );
}

function useSave() {
  const changes = useChanges();
  const navigate = useNavigate();
  const save = useMutation({
    mutationFn: ({ draft, from }: { draft: Draft; from: number | null }) =>
      storeProfile(new File([JSON.stringify(draft, null, 2)], "profile.json", { type: "application/json" }), from),
    onSuccess: async (engine) => {
      await changes.engineStored();
      await navigate(`/engines/${String(engine.id)}`);
    },
  });
  return save;
}

/** Asks before unsaved work is left. */
function useStay(unsaved: boolean): void {
  const blocker = useBlocker(({ currentLocation, nextLocation }) => unsaved && currentLocation.pathname !== nextLocation.pathname);
  useEffect(() => {
    if (blocker.state !== "blocked") return;
    if (window.confirm("The changes to this engine are not saved yet. Leave them?")) blocker.proceed();
    else blocker.reset();
  }, [blocker]);
  useEffect(() => {
    if (!unsaved) return;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [unsaved]);
}
