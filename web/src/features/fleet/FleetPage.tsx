/** The fleet: what all captures together say of every kind of engine. */
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { ApiError, type Schemas } from "../../api/client";
import { fleetKindsQuery, fleetQuery } from "../../api/fleet-queries";
import { usePutHeader } from "../../app/header";
import { EmptyNote, ErrorNote, PanelTitle, QuietButton, useKeys, Waiting } from "../../ui";
import { Analysing } from "./Analysing";
import { Kind } from "./Kind";

type View = Schemas["FleetView"];

export function FleetPage() {
  const fleet = useQuery(fleetQuery);
  const kinds = useQuery({ ...fleetKindsQuery, enabled: fleet.data !== undefined && fleet.data.made_at !== null });
  usePutHeader(null, "fleet", "Fleet");
  if (fleet.isPending) return <Box p="6"><Waiting>Looking for the fleet's tables</Waiting></Box>;
  if (fleet.isError) return <Box p="6"><ErrorNote error={fleet.error} onRetry={() => void fleet.refetch()} /></Box>;
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
        {kinds.data ? headline(kinds.data) : "Fleet"}
      </Text>
      <Text color="mute" mb="3" maxW="760px">
        What the captures of many cars say together. A car counts once, with its newest cranked capture, and by how likely nothing but wear has moved
        its cams.
      </Text>
      <Analysing state={fleet.data} />
      {fleet.data.made_at === null && !fleet.data.running && (
        <EmptyNote title="No fleet has been analysed yet">
          Every job with captures is measured and judged as it would be now; nothing of it is changed.
        </EmptyNote>
      )}
      {kinds.isFetching && !kinds.data && <Waiting>Reading the tables</Waiting>}
      {kinds.isError && !(kinds.error instanceof ApiError && kinds.error.status === 404) && (
        <ErrorNote error={kinds.error} onRetry={() => void kinds.refetch()} />
      )}
      {kinds.data && <Kinds view={kinds.data} />}
    </Box>
  );
}

function headline(view: View): string {
  const drifting = view.kinds.filter((kind) => kind.drifts).length;
  const kinds = view.kinds.length === 1 ? "one kind of engine" : `${String(view.kinds.length)} kinds of engine`;
  const captures = view.captures === 1 ? "One capture" : `${String(view.captures)} captures`;
  const drift = drifting === 0 ? "none is seen to drift with distance" : drifting === 1 ? "one drifts with distance" : `${String(drifting)} drift with distance`;
  return `${captures} of ${kinds}: ${drift}`;
}

function Kinds({ view }: { view: View }) {
  const [at, setAt] = useState(0);
  const last = view.kinds.length - 1;
  useKeys({ ArrowDown: () => setAt((i) => Math.min(i + 1, last)), ArrowUp: () => setAt((i) => Math.max(i - 1, 0)) });
  const kind = view.kinds[Math.min(at, last)];
  return (
    <>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", xl: "250px minmax(0, 1fr)" }} gap="6">
        <Flex as="nav" aria-label="Kinds of engine" direction={{ base: "row", xl: "column" }} wrap={{ base: "wrap", xl: "nowrap" }} gap="1.5" alignSelf="start">
          {view.kinds.map((one, i) => (
            <QuietButton
              key={one.engine_sha256}
              h="auto"
              py="1.5"
              justifyContent="flex-start"
              textAlign="left"
              whiteSpace="normal"
              aria-current={one === kind ? "true" : undefined}
              borderColor={one === kind ? "petrol" : "line"}
              bg={one === kind ? "petrolSoft" : "transparent"}
              onClick={() => setAt(i)}
            >
              <span>
                <Box as="span" display="block" fontWeight="650">
                  {one.engine}
                </Box>
                <Box as="span" display="block" fontWeight="400" fontSize="13px">
                  {one.cars === 1 ? "1 car" : `${String(one.cars)} cars`}
                  {one.drifts && ", drifts"}
                  {one.apart.length > 0 && `, ${String(one.apart.length)} apart`}
                </Box>
              </span>
            </QuietButton>
          ))}
        </Flex>
        {kind && <Kind key={kind.engine_sha256} kind={kind} />}
      </Grid>
      {view.bad_count > 0 && (
        <Box as="section" aria-label="Could not be read" mt="4" data-testid="fleet-bad">
          <PanelTitle note={`${String(view.bad_count)} in all`}>Could not be read</PanelTitle>
          {view.bad.map((one) => (
            <Text key={`${one.name} ${one.reason}`} fontSize="13px">
              <b>{one.name}</b>: {one.reason}
            </Text>
          ))}
        </Box>
      )}
    </>
  );
}
