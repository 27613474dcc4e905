import { Box, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { percent, upperFirst } from "../../ui";

/** The one measurement that would change the call, its minutes, and what each outcome would make of it. */
export function WouldChange({ test, gate }: { test: Schemas["NextTest"] | null; gate: Schemas["Verdict"]["teardown"] }) {
  return (
    <Box as="section" bg="petrolSoft" rounded="md" p="3.5" id="would-change" alignSelf="start" tabIndex={-1} data-testid="would-change">
      <Text as="h2" fontSize="16px" fontWeight="680" mb="1">
        What would change this call
      </Text>
      {test ? (
        <>
          <Text fontSize="13.5px" lineHeight="1.4">
            {test.title}: <b>{`${test.minutes.toFixed(0)} min, ${test.cranks ? "cranks the engine" : "no cranking"}`}</b>. {test.why}
          </Text>
          {(test.outcomes ?? []).slice(0, 3).map((one) => (
            <Text key={one.outcome} fontSize="13.5px" lineHeight="1.4" mt="1">
              {`${upperFirst(one.outcome)} (${percent(one.chance)}): `}
              <b>{one.words}</b>, {percent(one.probability)}.
            </Text>
          ))}
        </>
      ) : (
        <Text fontSize="13.5px" lineHeight="1.4">
          {gate === "go" ? "No test is left that is worth its minutes before opening." : "No test at hand is expected to change it."}
        </Text>
      )}
    </Box>
  );
}
