import { Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import { betweenQuery } from "../../api/queries";
import { figure, useSettled } from "../../ui";
import { laneName } from "./names";

type Props = { captureId: number; a: number; b: number };

/** What the server measures between two moments, once they rest. */
export function useBetween({ captureId, a, b }: Props) {
  const [from, to] = useSettled<[number, number]>([a, b], 120);
  return useQuery(betweenQuery(captureId, from, to)).data;
}

/** What lies between the rulers, in every unit a person may count in; the server measures it. */
export function RulerReading({ captureId, a, b }: Props) {
  const read = useBetween({ captureId, a, b });
  return (
    <Flex gap="6" rowGap="1" wrap="wrap" fontSize="13.5px" mt="2" data-testid="ruler-reading">
      <Text>
        A to B <b>{(1000 * (b - a)).toFixed(2)} ms</b>
      </Text>
      {read && (
        <>
          <Text>{read.crank_deg === null ? "no crank angle at both" : <b>{read.crank_deg.toFixed(1)}° crank</b>}</Text>
          {read.wheel_teeth !== null && (
            <Text>
              <b>{read.wheel_teeth.toFixed(2)} wheel teeth</b>
            </Text>
          )}
          {read.rpm !== null && <Text>{read.rpm.toFixed(0)} rpm</Text>}
          <Text color="mute">
            {read.channels
              .map((c) => `${laneName({ ...c, cam: c.cam ?? null })} ${value(c.at_a)} → ${value(c.at_b)} ${c.unit}${c.rising === null ? "" : `, ${String(c.rising)} rising`}`)
              .join(" · ")}
          </Text>
        </>
      )}
    </Flex>
  );
}

function value(v: number | null): string {
  return v === null ? "missing" : figure(v);
}
