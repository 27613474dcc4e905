/** Every engine profile: what it is, how much of it is known, and the way to a new one. */
import { Box, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";

import type { Schemas } from "../../api/client";
import { enginesQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { ActionButton, ListPage } from "../../ui";
import { ImportProfile } from "./ImportProfile";

export function EnginesPage() {
  const engines = useQuery(enginesQuery);
  const navigate = useNavigate();
  usePutHeader(null, "engines", "Engines");
  const create = () => void navigate("/engines/new");
  return (
    <ListPage
      title="Engines"
      about="Cylinders, firing order and a crank wheel are enough to begin with"
      rows={engines}
      waiting="Reading the profiles"
      empty={{
        title: "No engine profile yet",
        text: (
          <>
            Write one, or import a profile file. <b>N</b> begins a new one.
          </>
        ),
      }}
      onNew={create}
      actions={
        <>
          <ImportProfile onStored={(engine) => void navigate(`/engines/${String(engine.id)}`)} />
          <ActionButton onClick={create} title="Key N">
            New engine
          </ActionButton>
        </>
      }
    >
      {(engine) => <EngineRow key={engine.id} engine={engine} />}
    </ListPage>
  );
}

const LAYOUTS: Record<string, string> = { inline: "in line", vee: "vee", flat: "flat" };

function EngineRow({ engine }: { engine: Schemas["EngineRow"] }) {
  return (
    <Box as="li" borderBottomWidth="1px" borderColor="line">
      <Link to={`/engines/${String(engine.id)}`} data-testid="engine">
        <Grid templateColumns={{ base: "1.4fr 1fr", lg: "1.3fr 1fr 1fr 150px" }} columnGap="6" px="3" py="2.5" alignItems="center" _hover={{ bg: "soft" }}>
          <Box>
            <Text fontSize="17px" fontWeight="680" lineHeight="1.25">
              {engine.name}
            </Text>
            <Text color="mute" fontSize="13px">
              {engine.unreadable ? "This profile cannot be read" : builtAs(engine)}
            </Text>
          </Box>
          {engine.unreadable ? (
            <Text gridColumn={{ lg: "span 2" }} color="late">
              {engine.unreadable}
            </Text>
          ) : (
            <>
              <Text>{`${engine.wheel ? `${engine.wheel} wheel` : "wheel not known"}, ${counted(engine.cams ?? 0, "cam")}`}</Text>
              <Text color="mute">{engine.open_points ? counted(engine.open_points, "open point") : "nothing open"}</Text>
            </>
          )}
          <Text color="mute">{`version ${String(engine.version)}, ${counted(engine.jobs, "job")}`}</Text>
        </Grid>
      </Link>
    </Box>
  );
}

function builtAs(engine: Schemas["EngineRow"]): string {
  return `${String(engine.cylinders)} cylinders${engine.layout ? `, ${LAYOUTS[engine.layout] ?? engine.layout}` : ""}`;
}

function counted(count: number, word: string): string {
  return count === 0 ? `no ${word}s` : count === 1 ? `1 ${word}` : `${String(count)} ${word}s`;
}
