import { Box, Flex, Text } from "@chakra-ui/react";

import { QuietButton } from "../../ui";
import { changed, type LaneSetting, moved, regained } from "./lanes";
import { laneName } from "./names";
import type { TraceChannel } from "./band";

type Props = { lanes: LaneSetting[]; channels: TraceChannel[]; onChange: (lanes: LaneSetting[]) => void };

/** Order, show, enlarge, lay over the lane before. */
export function LaneList({ lanes, channels, onChange }: Props) {
  return (
    <Box as="ul" listStyleType="none" mb="2" borderTopWidth="1px" borderColor="line" data-testid="lane-list">
      {lanes.map((lane, i) => {
        const channel = channels.find((c) => c.column === lane.column);
        const name = channel ? laneName(channel) : lane.column;
        return (
          <Flex as="li" key={lane.column} gap="1.5" py="1" align="center" borderBottomWidth="1px" borderColor="line" wrap="wrap">
            <Text w="150px" fontSize="13.5px" truncate color={lane.hidden ? "mute" : "ink"}>
              {name}
            </Text>
            <QuietButton disabled={i === 0} onClick={() => onChange(moved(lanes, lane.column, -1))} aria-label={`${name} up`}>
              ↑
            </QuietButton>
            <QuietButton disabled={i === lanes.length - 1} onClick={() => onChange(moved(lanes, lane.column, 1))} aria-label={`${name} down`}>
              ↓
            </QuietButton>
            <QuietButton onClick={() => onChange(changed(lanes, lane.column, { hidden: !lane.hidden }))} aria-pressed={!lane.hidden}>
              {lane.hidden ? "Show" : "Hide"}
            </QuietButton>
            <QuietButton onClick={() => onChange(regained(lanes, lane.column, -1))} aria-label={`${name} smaller`}>
              −
            </QuietButton>
            <Text fontSize="13px" w="36px" textAlign="center">
              × {lane.gain}
            </Text>
            <QuietButton onClick={() => onChange(regained(lanes, lane.column, 1))} aria-label={`${name} larger`}>
              +
            </QuietButton>
            <QuietButton disabled={i === 0} onClick={() => onChange(changed(lanes, lane.column, { over: !lane.over }))} aria-pressed={lane.over}>
              {lane.over ? "Own lane" : "Over the one above"}
            </QuietButton>
          </Flex>
        );
      })}
    </Box>
  );
}
