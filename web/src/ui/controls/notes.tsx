/** The three states a place can be in besides showing something: waiting, empty, wrong. */
import { Box, Flex, Spinner, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect, useState } from "react";

import { ApiError } from "../../api/client";
import { QuietButton } from "./buttons";

/** Says what is awaited, but only once it takes long enough to be noticed. */
export function Waiting({ children }: { children: ReactNode }) {
  const [slow, setSlow] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setSlow(true), 400);
    return () => clearTimeout(timer);
  }, []);
  if (!slow) return <Box minH="60px" />;
  return (
    <Flex role="status" align="center" gap="3" color="mute" minH="60px">
      <Spinner size="sm" color="petrol" />
      <Text>{children}</Text>
    </Flex>
  );
}

export function EmptyNote({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box borderWidth="1px" borderStyle="dashed" borderColor="line" rounded="md" p="6" maxW="640px">
      <Text fontSize="20px" fontWeight="680" mb="1">
        {title}
      </Text>
      <Box color="mute">{children}</Box>
    </Box>
  );
}

/** What happened, what was kept, what to do. */
export function ErrorNote({ error, onRetry, onClose }: { error: Error; onRetry?: () => void; onClose?: () => void }) {
  const body = error instanceof ApiError ? error.body : null;
  return (
    <Box role="alert" borderLeftWidth="4px" borderColor="late" bg="lateSoft" px="4" py="3" maxW="720px" rounded="sm">
      {body?.place && (
        <Text fontSize="13px" color="ink" fontWeight="600">
          {body.place}
        </Text>
      )}
      <Text fontWeight="680">{error.message}</Text>
      {body && (body.kept || body.remedy) && (
        <Text fontSize="13.5px" mt="0.5">
          {[body.kept, body.remedy]
            .filter(Boolean)
            .map((part) => part.replace(/\.?$/, "."))
            .join(" ")}
        </Text>
      )}
      {(onRetry ?? onClose) && (
        <Flex gap="2" mt="2">
          {onRetry && <QuietButton onClick={onRetry}>Try again</QuietButton>}
          {onClose && <QuietButton onClick={onClose}>Close</QuietButton>}
        </Flex>
      )}
    </Box>
  );
}
