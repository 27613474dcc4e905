import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import { NavLink, useLocation } from "react-router";

import type { JobState } from "../../app/station";
import { STATIONS } from "./stations";

type Numbered = (typeof STATIONS)[number];

/** `reading`: what is known at the stations is still on its way; nothing is said of them until it is here. */
type Props = JobState & { reading: boolean };

const READING = { done: false, note: "reading" };

export function Route(state: Props) {
  const cautions = state.analysis?.analysis.verdict.cautions ?? [];
  return (
    <>
      <Stops {...state} />
      {(cautions.includes("stop_cranking") || state.recording?.live?.stop) && <StopCranking live={Boolean(state.recording?.live?.stop)} />}
    </>
  );
}

/** So that nobody misses it, at whatever station; a phone has it in the bar below. */
function StopCranking({ live }: { live: boolean }) {
  return (
    <Box borderLeftWidth="4px" borderColor="late" pl={{ base: "2", lg: "2.5" }} mt="3" display={{ base: "none", md: "block" }} data-testid="route-stop">
      <Text fontWeight="720" lineHeight="1.15" fontSize="19px" color="late">
        Stop cranking
      </Text>
      <Text display={{ base: "none", lg: "block" }} fontSize="13px" lineHeight="1.3">
        {live ? "release the key now" : "marks may still be looked at, turning by hand"}
      </Text>
    </Box>
  );
}

/** Down the side with what is known at each; on a narrow screen with number and name, on a phone along the top. */
function Stops(state: Props) {
  const list = useRef<HTMLDivElement>(null);
  const { pathname } = useLocation();
  useEffect(() => {
    // Newer browsers answer a scroll with a promise, which must not be taken for the way to undo it.
    list.current?.querySelector("[aria-current]")?.scrollIntoView({ block: "nearest", inline: "center" });
  }, [pathname]);
  return (
    <Flex as="ol" ref={list} direction={{ base: "row", md: "column" }} listStyleType="none" position="relative" gap={{ base: "1", lg: "0" }}>
      {STATIONS.map((station) => (
        <Box as="li" key={station.id} position="relative" flex="none" minH={{ base: "auto", lg: "58px" }}>
          {station.number < STATIONS.length && (
            <Box display={{ base: "none", lg: "block" }} position="absolute" left="7.5px" top="21px" bottom="-2px" w="1px" bg="line" />
          )}
          <NavLink to={`/jobs/${state.job.id}/${station.id}`} title={station.name}>
            {({ isActive }) => <Stop station={station} here={isActive} {...(state.reading ? READING : station.note(state))} />}
          </NavLink>
        </Box>
      ))}
    </Flex>
  );
}

function Stop({ station, here, done, note }: { station: Numbered; here: boolean; done: boolean; note: string }) {
  return (
    <Flex
      gap={{ base: "1.5", lg: "2.5" }}
      align={{ base: "center", lg: "flex-start" }}
      minH="44px"
      color={here ? "petrol" : "ink"}
      aria-label={`${station.number} ${station.name}: ${note}`}
      borderBottomWidth={{ base: "3px", md: "0" }}
      borderColor={here ? "petrol" : "transparent"}
      px={{ base: "1.5", md: "0" }}
    >
      <Box pt={{ base: "0", lg: "3px" }} flex="none">
        <Mark done={done} here={here} />
      </Box>
      <Box minW="0" pb={{ base: "0", lg: "2" }}>
        <Text fontWeight={here ? "720" : "600"} lineHeight={{ base: "1.15", lg: "1.3" }} fontSize={{ base: "14px", lg: "15px" }}>
          <Box as="span" color="mute" fontWeight="400" mr="1.5">
            {station.number}
          </Box>
          {station.name}
        </Text>
        <Box display={{ base: "none", lg: "block" }}>
          <Text color="mute" fontSize="13px" lineHeight="1.3" lineClamp={2}>
            {note}
          </Text>
        </Box>
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
