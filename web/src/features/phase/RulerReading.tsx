import { Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { crankAngleBetween } from "./crank-angle";
import type { Strip } from "./strip-geometry";

type Props = { strip: Strip; channels: Schemas["RawChannel"][]; a: number; b: number };

/** What lies between the rulers, in every unit a person may count in. */
export function RulerReading({ strip, channels, a, b }: Props) {
  const between = crankAngleBetween(strip, a, b);
  const pitch = strip.ruler?.pitch_deg ?? null;
  const first = channels[0];
  return (
    <Flex gap="6" wrap="wrap" fontSize="13.5px" mt="2" data-testid="ruler-reading">
      <Text>
        A to B <b>{(1000 * (b - a)).toFixed(2)} ms</b>
      </Text>
      <Text>{between === null ? "outside the whole cycles: no angle" : <b>{between.toFixed(1)}° crank</b>}</Text>
      {between !== null && pitch !== null && (
        <Text>
          <b>{(between / pitch).toFixed(2)} wheel teeth</b>
        </Text>
      )}
      {first && (
        <Text color="mute">
          {channels.map((c) => `${c.cam ?? c.role} ${volts(c, a)} → ${volts(c, b)} ${c.unit}`).join(" · ")}
        </Text>
      )}
    </Flex>
  );
}

function volts(channel: Schemas["RawChannel"], time: number): string {
  let best = 0;
  channel.times_s.forEach((t, i) => {
    if (Math.abs(t - time) < Math.abs((channel.times_s[best] ?? 0) - time)) best = i;
  });
  return (((channel.low[best] ?? 0) + (channel.high[best] ?? 0)) / 2).toFixed(2);
}
