import { Box, Flex, Text } from "@chakra-ui/react";
import { NavLink } from "react-router";

import type { JobState } from "../../app/station";
import { STATIONS } from "./stations";

type Numbered = (typeof STATIONS)[number];

export function Route(state: JobState) {
  const cautions = state.analysis?.analysis.verdict.cautions ?? [];
  return (
    <>
      <Stops {...state} />
      {(cautions.includes("stop_cranking") || state.recording?.live?.stop) && <StopCranking live={Boolean(state.recording?.live?.stop)} />}
    </>
  );
}

/** So that nobody misses it, at whatever station. */
function StopCranking({ live }: { live: boolean }) {
  return (
    <Box borderLeftWidth="4px" borderColor="late" pl={{ base: "1", lg: "2.5" }} mt="3" data-testid="route-stop">
      <Text fontWeight="720" lineHeight="1.2" fontSize={{ base: "11px", lg: "16px" }}>
        Stop cranking
      </Text>
      <Text display={{ base: "none", lg: "block" }} fontSize="12.5px" color="mute" lineHeight="1.3">
        {live ? "release the key now" : "marks may still be looked at, turning by hand"}
      </Text>
    </Box>
  );
}

function Stops(state: JobState) {
  return (
    <Flex as="ol" direction="column" listStyleType="none" position="relative" gap={{ base: "1.5", lg: "0" }}>
      {STATIONS.map((station) => (
        <Box as="li" key={station.id} position="relative" minH={{ base: "auto", lg: "58px" }}>
          {station.number < STATIONS.length && (
            <Box display={{ base: "none", lg: "block" }} position="absolute" left="7.5px" top="21px" bottom="-2px" w="1px" bg="line" />
          )}
          <NavLink to={`/jobs/${state.job.id}/${station.id}`} title={station.name}>
            {({ isActive }) => <Stop station={station} here={isActive} {...station.note(state)} />}
          </NavLink>
        </Box>
      ))}
    </Flex>
  );
}

function Stop({ station, here, done, note }: { station: Numbered; here: boolean; done: boolean; note: string }) {
  return (
    <Flex
      gap="2.5"
      justify={{ base: "center", lg: "flex-start" }}
      align="flex-start"
      minH="44px"
      color={here ? "petrol" : "ink"}
      aria-label={`${station.number} ${station.name}: ${note}`}
    >
      <Box display={{ base: "none", lg: "block" }} pt="3px">
        <Mark done={done} here={here} />
      </Box>
      <Flex
        display={{ base: "flex", lg: "none" }}
        align="center"
        justify="center"
        w="36px"
        h="44px"
        rounded="md"
        bg={here ? "petrol" : "transparent"}
        color={here ? "onPetrol" : "ink"}
        borderWidth="1px"
        borderStyle={done ? "solid" : "dashed"}
        borderColor={here ? "petrol" : "line"}
        fontWeight="700"
      >
        {station.number}
      </Flex>
      <Box display={{ base: "none", lg: "block" }} minW="0" pb="2">
        <Text fontWeight="600" lineHeight="1.3">
          <Box as="span" color="mute" fontWeight="400" mr="1.5">
            {station.number}
          </Box>
          {station.name}
        </Text>
        <Text color="mute" fontSize="12.5px" lineHeight="1.3" lineClamp={2}>
          {note}
        </Text>
      </Box>
    </Flex>
  );
}

/** Filled: done. Ring: here. Hollow: open. */
function Mark({ done, here }: { done: boolean; here: boolean }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" fill="none" stroke="currentColor">
      {here ? (
        <>
          <circle cx="8" cy="8" r="6.8" strokeWidth="2.2" />
          <circle cx="8" cy="8" r="2.8" fill="currentColor" stroke="none" />
        </>
      ) : done ? (
        <circle cx="8" cy="8" r="6" fill="var(--chakra-colors-petrol)" stroke="none" />
      ) : (
        <circle cx="8" cy="8" r="5.4" strokeWidth="1.3" stroke="var(--chakra-colors-mute)" />
      )}
    </svg>
  );
}
