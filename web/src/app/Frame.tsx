/** The bar on top of every screen, and the keys that work everywhere. */
import { Box, Flex } from "@chakra-ui/react";
import { useTheme } from "next-themes";
import { useState } from "react";
import { Link, Outlet, useLocation, useNavigate } from "react-router";

import { PRACTICE, PRACTISING } from "../api/base";
import { useLive } from "../api/live";
import { GlossarySheet } from "../features/glossary";
import { KeysDialog, QuietButton, Sheet, useKeys } from "../ui";
import { FileDrop } from "./FileDrop";
import { HeaderSlotProvider, useHeader } from "./header";
import { focusContent, useKeptFocus } from "./keepFocus";
import { KEY_GROUPS } from "./keys";
import { usePaper } from "./paper";
import { Unseen } from "./Unseen";

/** These stand in the menu alone where the bar has to name the vehicle and its complaint. */
const SELDOM = ["Fleet", "Settings", "Practice", "Words"];

/** What lies at the root of the addresses. */
const HOME = PRACTISING ? "Practice" : "Bay board";

export function Frame() {
  return (
    <HeaderSlotProvider>
      <FrameBody />
    </HeaderSlotProvider>
  );
}

function FrameBody() {
  const { resolvedTheme, setTheme } = useTheme();
  const [keysOpen, setKeysOpen] = useState(false);
  const navigate = useNavigate();
  const header = useHeader();
  useKeptFocus();
  usePaper();
  useLive();
  const dark = resolvedTheme === "dark";
  const swap = () => setTheme(dark ? "light" : "dark");
  const [wordsOpen, setWordsOpen] = useState(false);
  const station = /^\/jobs\/\d+\/([a-z-]+)/.exec(useLocation().pathname)?.[1] ?? null;
  const [menu, setMenu] = useState(false);
  const leave = () => window.location.assign("/");
  const workshop = [
    { words: "Logbook", hint: "J", go: () => void navigate("/logbook") },
    { words: "Engines", hint: "G", go: () => void navigate("/engines") },
    { words: "Workshop", hint: "W", go: () => void navigate("/workshop") },
    { words: "Fleet", hint: "F", go: () => void navigate("/fleet") },
    { words: "Settings", hint: ",", go: () => void navigate("/settings") },
    { words: "Practice", hint: "Y", go: () => window.location.assign(PRACTICE) },
  ];
  const places = [
    ...(PRACTISING ? [{ words: "Back to the workshop", hint: "W", go: leave }] : workshop),
    { words: dark ? "Daylight" : "Under-bonnet", hint: "D", go: swap },
    { words: "Words", hint: "Q", go: () => setWordsOpen(true) },
    { words: "Keys", hint: "?", go: () => setKeysOpen(true) },
  ];
  useKeys({ b: () => void navigate("/"), ...Object.fromEntries(places.map(({ hint, go }) => [hint.toLowerCase(), go])) });
  return (
    <Flex direction="column" h="100dvh" data-frame>
      <SkipLink />
      <Flex
        as="header"
        align="center"
        gap="4"
        px={{ base: "3", md: "4.5" }}
        h="52px"
        flex="none"
        borderBottomWidth="1px"
        borderColor="line"
        overflow="hidden"
      >
        <Link to="/" aria-label={`Phasko, to the ${HOME.toLowerCase()}`}>
          <Flex align="center" gap="2">
            <PhaskoMark />
            <Box as="span" fontSize="20px" fontWeight="720" letterSpacing="-0.01em">
              Phasko
            </Box>
          </Flex>
        </Link>
        <Flex flex="1" minW="0" align="center" gap="3" overflow="hidden">
          {header}
        </Flex>
        <Flex gap="2" display={{ base: "none", lg: "flex" }}>
          {places.map(({ words, hint, go }) => (
            <QuietButton key={words} onClick={go} hint={hint} display={SELDOM.includes(words) ? { base: "none", "2xl": "inline-flex" } : "inline-flex"}>
              {words}
            </QuietButton>
          ))}
        </Flex>
        <Box display={{ base: "block", "2xl": "none" }}>
          <QuietButton h="40px" aria-expanded={menu} onClick={() => setMenu(true)}>
            Menu
          </QuietButton>
        </Box>
      </Flex>
      <Box flex="1" minH="0" data-frame>
        <Outlet />
      </Box>
      <FileDrop />
      <Unseen />
      <Sheet title="Menu" open={menu} onClose={() => setMenu(false)} narrow>
        <Flex direction="column" gap="2">
          {[{ words: HOME, go: () => void navigate("/") }, ...places].map(({ words, go }) => (
            <QuietButton
              key={words}
              h="44px"
              fontSize="16px"
              onClick={() => {
                setMenu(false);
                go();
              }}
            >
              {words}
            </QuietButton>
          ))}
        </Flex>
      </Sheet>
      <GlossarySheet open={wordsOpen} station={station} onClose={() => setWordsOpen(false)} />
      <KeysDialog groups={KEY_GROUPS} open={keysOpen} onClose={() => setKeysOpen(false)} />
    </Flex>
  );
}

/** The first thing that Tab reaches: past the bar and the route, to what the screen is about. */
function SkipLink() {
  return (
    <Box
      asChild
      position="absolute"
      left="-9999px"
      zIndex="skipNav"
      bg="petrol"
      color="onPetrol"
      px="4"
      py="2"
      fontWeight="650"
      _focusVisible={{ left: "8px", top: "6px" }}
    >
      <button type="button" onClick={focusContent} data-testid="skip">
        To the content
      </button>
    </Box>
  );
}

function PhaskoMark() {
  return (
    <svg width="26" height="26" viewBox="0 0 32 32" fill="none" strokeWidth="3" aria-hidden="true">
      <circle cx="16" cy="16" r="12.5" stroke="var(--chakra-colors-late)" strokeDasharray="3.27 3.27" />
      <path d="M3.5 16A12.5 12.5 0 0 0 16 28.5" stroke="var(--chakra-colors-petrol)" />
      <circle cx="16" cy="16" r="7" stroke="var(--chakra-colors-petrol)" />
    </svg>
  );
}
