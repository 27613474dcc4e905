import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { lowerFirst } from "../../ui";

type Pillar = Schemas["PillarResult"];

const NAMES: Record<Pillar["pillar"], string> = {
  seals: "It seals",
  breathes: "It breathes",
  sparks: "It sparks",
  fuel: "It gets fuel",
};
const STATIONS: Record<Pillar["pillar"], string> = { seals: "seal", breathes: "look", sparks: "look", fuel: "look" };
const STATES: Record<Pillar["state"], string> = { proven: "proven", suspect: "suspect", not_looked_at: "not looked at" };

/** What an engine needs, each proven, suspect or not looked at: nothing is right because nobody looked. */
export function Pillars({ jobId, pillars }: { jobId: number; pillars: readonly Pillar[] }) {
  return (
    <Grid templateColumns={{ base: "1fr 1fr", md: "repeat(4, 1fr)" }} gap="2" mb="4" data-testid="pillars">
      {pillars.map((one) => (
        <Link key={one.pillar} to={`/jobs/${jobId}/${STATIONS[one.pillar]}`}>
          <Flex
            gap="2.5"
            p="2.5"
            minH="62px"
            h="full"
            bg={one.state === "not_looked_at" ? "transparent" : "panel"}
            borderWidth="1px"
            borderStyle={one.state === "not_looked_at" ? "dashed" : "solid"}
            borderColor="line"
            rounded="md"
            data-testid={`pillar-${one.pillar}`}
          >
            <Sign state={one.state} />
            <Box minW="0">
              <Text fontWeight="650" lineHeight="1.2">
                {NAMES[one.pillar]}
              </Text>
              <Text fontSize="13px" lineHeight="1.3" color={one.state === "suspect" ? "late" : "mute"}>
                {one.state === "not_looked_at" ? STATES[one.state] : `${STATES[one.state]}: ${lowerFirst(one.text)}`}
              </Text>
            </Box>
          </Flex>
        </Link>
      ))}
    </Grid>
  );
}

/** Filled circle: proven. Diamond: suspect. Hollow: nobody looked. */
function Sign({ state }: { state: Pillar["state"] }) {
  return (
    <svg width="15" height="15" viewBox="0 0 15 15" aria-hidden="true" style={{ flex: "none", marginTop: 2 }} fill="none">
      {state === "proven" && <circle cx="7.5" cy="7.5" r="6.5" fill="var(--chakra-colors-petrol)" />}
      {state === "suspect" && <path d="M7.5 0.5l7 7-7 7-7-7z" fill="var(--chakra-colors-late)" />}
      {state === "not_looked_at" && <circle cx="7.5" cy="7.5" r="5.8" stroke="var(--chakra-colors-mute)" strokeWidth="1.4" />}
    </svg>
  );
}
