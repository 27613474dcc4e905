/** Somebody has changed the same meanwhile: what, and whose words shall stand. Nothing that was typed is lost. */
import { Box, Flex, Text } from "@chakra-ui/react";

import { ApiError } from "../../api/client";
import { ActionButton, QuietButton } from "./buttons";
import { ErrorNote } from "./notes";

type Props = { error: Error; onMine: (version: number) => void; onTheirs: () => void; onClose?: () => void };

export function OutdatedNote({ error, onMine, onTheirs, onClose }: Props) {
  const outdated = error instanceof ApiError ? error.outdated : null;
  if (!outdated) return <ErrorNote error={error} {...(onClose ? { onClose } : {})} />;
  return (
    <Box role="alert" borderLeftWidth="4px" borderColor="late" bg="lateSoft" px="4" py="3" my="2" maxW="720px" rounded="sm" data-testid="outdated">
      <Text fontWeight="680">{error.message}.</Text>
      <Text fontSize="13.5px" mt="0.5">
        Theirs is stored; what you entered still stands here.
      </Text>
      <Flex gap="2" mt="2" wrap="wrap">
        <ActionButton h="32px" fontSize="13px" onClick={() => onMine(outdated.version)}>
          Keep mine over theirs
        </ActionButton>
        <QuietButton onClick={onTheirs}>Take theirs, drop mine</QuietButton>
      </Flex>
    </Box>
  );
}
