import { Box, Flex, Text } from "@chakra-ui/react";

import { camName } from "./cams";
import { listAt } from "./draft";
import { NumberAt, NumbersAt, PickAt, useForm } from "./fields";

/** Chain, belt or gears: one pitch, or each cam's stages, and the free links to it. */
export function DriveFields() {
  const { draft } = useForm();
  const cams = listAt(draft, ["cams"]).map((_, i) => camName(draft, i));
  return (
    <>
      <PickAt
        label="Drive"
        path={["drive", "type"]}
        unknown="not known"
        options={[
          ["chain", "chain"],
          ["belt", "toothed belt"],
          ["gear", "gears"],
          ["distributor_gear", "distributor gear"],
        ]}
      />
      <NumberAt label="Teeth of the crank sprocket" path={["drive", "crank_sprocket_teeth"]} />
      <NumberAt label="Pitch" path={["drive", "pitch_mm"]} after="mm" />
      {cams.length > 0 && (
        <Box w="full">
          <Text color="mute" fontSize="13px" mb="1">
            To each cam: the free links from the crank, and the pitch of each stage in crank degrees where there are several
          </Text>
          <Flex direction="column" gap="2">
            {cams.map((cam) => (
              <Flex key={cam} gap="3" align="end">
                <Text w="50px" fontWeight="650" pb="1">
                  {cam}
                </Text>
                <NumberAt label={`Free links to ${cam}`} path={["drive", "free_links", cam]} />
                <NumbersAt label={`Stages to ${cam}`} path={["drive", "pitch_crank_deg", cam]} width={140} after="°" hint="one stage" />
              </Flex>
            ))}
          </Flex>
        </Box>
      )}
    </>
  );
}
