import { Box, CloseButton, Dialog, Flex, Kbd, Portal, Text } from "@chakra-ui/react";

export type KeyGroup = { where: string; keys: readonly (readonly [key: string, does: string])[] };

/** Every key, group by group: where it works and what it does there. */
type Props = { groups: readonly KeyGroup[]; open: boolean; onClose: () => void };

export function KeysDialog({ groups, open, onClose }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={(e) => !e.open && onClose()} size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="panel" color="ink">
            <Dialog.Header>
              <Dialog.Title>Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="6">
              {groups.map((group) => (
                <Box key={group.where} as="section" mb="3">
                  <Text as="h3" fontSize="12.5px" color="mute" fontWeight="650">
                    {group.where}
                  </Text>
                  {group.keys.map(([key, does]) => (
                    <Flex key={key} gap="4" py="1" align="baseline">
                      <Kbd w="92px" flex="none" justifyContent="center" bg="soft" color="ink">
                        {key}
                      </Kbd>
                      <Text>{does}</Text>
                    </Flex>
                  ))}
                </Box>
              ))}
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" aria-label="Close" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
