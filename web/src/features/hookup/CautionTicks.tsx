/** The cautions as ticks: each has to be ticked before one records. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";

import type { Schemas } from "../../api/client";
import { PanelTitle } from "../../ui";

type Props = { cautions: Schemas["CautionOut"][]; at: number; onAt: (at: number) => void; onTick: (id: string) => void };

export function CautionTicks({ cautions, at, onAt, onTick }: Props) {
  const list = useRef<HTMLDivElement>(null);
  const moved = useRef(false);
  useEffect(() => {
    if (moved.current) list.current?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest" });
    moved.current = true;
  }, [at]);
  return (
    <Box as="section" aria-label="Before the start" ref={list}>
      <PanelTitle note="local rules, the maker's procedure and licensed practice come first">
        Before the start: {cautions.filter((one) => one.ticked).length} of {cautions.length} ticked
      </PanelTitle>
      {cautions.map((caution, i) => (
        <Flex
          key={caution.id}
          asChild
          gap="2.5"
          align="center"
          px="2"
          minH="36px"
          borderLeftWidth="4px"
          borderColor={i === at ? "petrol" : "transparent"}
          bg={i === at ? "soft" : "transparent"}
          cursor="pointer"
          aria-current={i === at}
        >
          <label>
            <input
              type="checkbox"
              checked={caution.ticked}
              data-testid="caution"
              data-caution={caution.id}
              onFocus={() => onAt(i)}
              onChange={() => {
                onAt(i);
                onTick(caution.id);
              }}
              style={{ width: 20, height: 20, accentColor: "var(--chakra-colors-petrol)", flex: "none" }}
            />
            <Text fontSize="14.5px">
              {caution.text}{" "}
              <Box as="span" color="mute" fontSize="13px">
                {caution.why}
              </Box>
            </Text>
          </label>
        </Flex>
      ))}
    </Box>
  );
}
