import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import { inboxQuery } from "../../api/queries";
import { ErrorNote, QuietButton } from "../../ui";

/** Files that wait on the server's own disk; nothing is shown while there are none. */
export function Inbox({ onTake }: { onTake: (name: string) => void }) {
  const inbox = useQuery(inboxQuery);
  if (inbox.isError) return <ErrorNote error={inbox.error} onRetry={() => void inbox.refetch()} />;
  if (!inbox.data?.files.length && !inbox.data?.watched.length) return null;
  return (
    <Box mt="4" data-testid="inbox">
      <Text fontWeight="680">Waiting in the inbox</Text>
      <Text color="mute" fontSize="13px" mb="1">
        {inbox.data.folder} on the server. A file stays there after it is taken in.
        {inbox.data.files.length === 0 && " Nothing waits there now."}
      </Text>
      {inbox.data.watched.map((one) => (
        <Text key={one.folder} color={one.trouble ? "late" : "mute"} fontSize="13px" mb="1">
          {one.trouble
            ? `The watched folder ${one.folder} cannot be read now (${one.trouble}); it is tried again.`
            : `What appears in ${one.folder} comes here by itself.`}
        </Text>
      ))}
      <Box as="ul" listStyleType="none" maxH="220px" overflowY="auto">
        {inbox.data.files.map((file) => (
          <Flex as="li" key={file.name} gap="4" align="center" py="1" borderTopWidth="1px" borderColor="line">
            <Text flex="1" minW="0" truncate>
              {file.name}
            </Text>
            <Text color="mute">{sizeWords(file.size_bytes)}</Text>
            <Text color="mute">{file.changed_at.slice(0, 16).replace("T", " ")}</Text>
            <QuietButton aria-label={`Take in ${file.name}`} onClick={() => onTake(file.name)}>
              Take in
            </QuietButton>
          </Flex>
        ))}
      </Box>
    </Box>
  );
}

function sizeWords(bytes: number): string {
  return bytes < 1e6 ? `${String(Math.max(1, Math.round(bytes / 1000)))} kB` : `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;
}
