import { Box, Flex, Kbd, Text } from "@chakra-ui/react";

import { Sheet } from "./Sheet";

export type KeyGroup = { where: string; keys: readonly (readonly [key: string, does: string])[] };

/** Every key, group by group: where it works and what it does there. */
type Props = { groups: readonly KeyGroup[]; open: boolean; onClose: () => void };

export function KeysDialog({ groups, open, onClose }: Props) {
  return (
    <Sheet title="Keys" open={open} onClose={onClose} narrow>
      {groups.map((group) => (
        <Box key={group.where} as="section" mb="3">
          <Text as="h3" fontSize="13px" color="mute" fontWeight="650">
            {group.where}
          </Text>
          {group.keys.map(([key, does]) => (
            <Flex key={key} gap="4" py="1" align="baseline">
              <Kbd w="112px" flex="none" justifyContent="center" bg="soft" color="ink">
                {key}
              </Kbd>
              <Text>{does}</Text>
            </Flex>
          ))}
        </Box>
      ))}
    </Sheet>
  );
}
