/** What was odd in the signals, in order of time; picking one shows the raw signals there. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { QuietButton } from "../../ui";
import { type Irregularity, lookSpan, oddWords, placeWords } from "./irregularity-words";
import type { Strip } from "./strip-geometry";
import type { Focus } from "./view";

const AT_FIRST = 6;

type Props = {
  odd: Irregularity[];
  strip: Strip | undefined;
  focus: Focus | null;
  onLook: (timeS: number, toS: number, spanS: number) => void;
};

export function Irregularities({ odd, strip, focus, onLook }: Props) {
  const [all, setAll] = useState(false);
  if (!odd.length) return null;
  const shown = all ? odd : odd.slice(0, AT_FIRST);
  const names = new Map(strip?.lanes.map((lane) => [lane.cam, lane.name]));
  return (
    <Box mt="3" data-testid="irregularities">
      <Text fontWeight="650" mb="1">
        {odd.length} {odd.length === 1 ? "irregularity" : "irregularities"} in the signals{" "}
        <Box as="span" color="mute" fontWeight="400" fontSize="13px">
          I shows the next one
        </Box>
      </Text>
      <Flex gap="1.5" wrap="wrap">
        {shown.map((one, i) => {
          const on = focus?.timeS === one.time_s;
          return (
            <Button
              key={i}
              h="auto"
              minH="36px"
              py="1"
              px="2.5"
              variant="outline"
              bg={on ? "petrolSoft" : "transparent"}
              borderColor={on ? "petrol" : "line"}
              color="ink"
              fontSize="13px"
              fontWeight="500"
              whiteSpace="normal"
              textAlign="start"
              onClick={() => onLook(one.time_s, one.to_s, lookSpan(one))}
              aria-pressed={on}
              data-testid="irregularity"
            >
              <span>
                <b>{names.get(one.signal) ?? (one.signal === "crank" ? "Crank" : one.signal)}</b>: {oddWords(one)}{" "}
                <Box as="span" color="mute">
                  {placeWords(one)}
                </Box>
              </span>
            </Button>
          );
        })}
        {odd.length > AT_FIRST && (
          <QuietButton h="36px" onClick={() => setAll((on) => !on)}>
            {all ? "Show fewer" : `Show all ${odd.length}`}
          </QuietButton>
        )}
      </Flex>
    </Box>
  );
}
