import { Box, Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { WhyMark } from "../why";

type Props = { costs: Schemas["CostResult"] | null; schools: readonly Schemas["SchoolResult"][] };

/** What it costs to be wrong either way, and how far is too far by each school of limits. */
export function CostsAndLimits({ costs, schools }: Props) {
  const used = schools.find((school) => school.used);
  const others = schools.filter((school) => school.beyond !== null && used?.beyond !== null && school.beyond !== used?.beyond);
  return (
    <Box as="section" fontSize="13.5px" lineHeight="1.4" data-testid="costs">
      {costs && (
        <>
          <Text as="h2" fontSize="16px" fontWeight="680">
            What it costs to be wrong
          </Text>
          <Text>{costs.text}</Text>
          <Text color="mute" mb="3">
            Opening takes about {costs.opening_hours} hours here.
          </Text>
        </>
      )}
      {schools.length > 0 && (
        <>
          <Text as="h2" fontSize="16px" fontWeight="680">
            How far is too far
            <WhyMark id="limits" about="How far is too far" />
          </Text>
          {schools.map((school) => (
            <Flex key={school.school} justify="space-between" gap="3">
              <Text>
                {school.words}
                {school.used && (
                  <Box as="span" color="mute">
                    {" (used here)"}
                  </Box>
                )}
              </Text>
              <Text flex="none" fontWeight="680" color={school.beyond ? "late" : "mute"}>
                {school.beyond === null ? "not told" : school.beyond ? "over" : "within"}
              </Text>
            </Flex>
          ))}
          <Text color="mute">{others.length ? "Another school says otherwise." : "No school says otherwise."}</Text>
        </>
      )}
    </Box>
  );
}
