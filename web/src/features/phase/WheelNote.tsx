import { Box, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { offsetWords, plusMinus } from "../../ui";
import { WhyMark } from "../why";
import type { Strip } from "./strip-geometry";

/** The wheel that was seen against the profile's, and how many pulses each signal gave per cycle. */
type Props = { captureId: number; result: Schemas["CaptureResult"] | undefined; strip: Strip | undefined };

export function WheelNote({ captureId, result, strip }: Props) {
  const crank = result?.crank;
  if (!crank) return null;
  const names = new Map(strip?.lanes.map((lane) => [lane.cam, lane.name.toLowerCase()]));
  const wheel = crank.wheel ?? "unknown";
  const against =
    crank.matches_profile === true
      ? `${wheel}, as the profile has it`
      : crank.matches_profile === false
        ? `${wheel === "unknown" ? "not recognised" : `looks like ${wheel}`}, not the profile's`
        : `${wheel}, recognised; the profile has none`;
  return (
    <Text fontSize="13px" mt="2" data-testid="wheel-note">
      Crank wheel <b>{against}</b>
      {(result.counts ?? []).map((count) => (
        <Box as="span" key={count.signal} color="mute">
          {" · "}
          {names.get(count.signal) ?? count.signal} {count.per_cycle} of {count.expected} per cycle
          {count.bad_windows > 0 && (
            <Box as="b" color="late">
              , {count.bad_windows} of {count.windows} windows bad
            </Box>
          )}
        </Box>
      ))}
      {crank.index_offset_deg != null && crank.index_offset_u95_deg != null && (
        <>
          {" · against the pistons "}
          {offsetWords(crank.index_offset_deg, crank.index_offset_u95_deg)} {plusMinus(crank.index_offset_u95_deg)}°
          <WhyMark id={`${String(captureId)}/pistons`} about="Crank wheel against the pistons" />
        </>
      )}
    </Text>
  );
}
