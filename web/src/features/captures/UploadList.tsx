import { Box, Flex, Progress, Text } from "@chakra-ui/react";

import { ErrorNote, QuietButton } from "../../ui";
import type { Upload } from "./upload";

export function UploadList({ uploads, onClose }: { uploads: Upload[]; onClose: (name: string) => void }) {
  return (
    <Box mt={uploads.length ? "4" : "0"}>
      {uploads.map((upload) => (
        <Box key={upload.name} mb="2">
          <One upload={upload} onClose={() => onClose(upload.name)} />
        </Box>
      ))}
    </Box>
  );
}

function One({ upload, onClose }: { upload: Upload; onClose: () => void }) {
  switch (upload.status) {
    case "sending":
      return (
        <Flex align="center" gap="3" role="status">
          <Text w="220px" truncate>
            {upload.name}
          </Text>
          <Bar share={upload.share} />
          <QuietButton onClick={upload.cancel}>Cancel</QuietButton>
        </Flex>
      );
    case "reading":
      return (
        <Flex align="center" gap="3" role="status">
          <Text w="220px" truncate>
            {upload.name}
          </Text>
          <Bar share={null} />
          <Text color="mute">reading and checking</Text>
        </Flex>
      );
    case "done":
      return (
        <Text role="status" color="petrol" fontWeight="600">
          {upload.name} is in the job
        </Text>
      );
    case "cancelled":
      return <Text color="mute">{upload.name} was not added: cancelled. The job is as it was.</Text>;
    case "failed":
      return <ErrorNote error={upload.error} onClose={onClose} />;
  }
}

function Bar({ share }: { share: number | null }) {
  return (
    <Progress.Root flex="1" size="sm" value={share === null ? null : 100 * share} max={100}>
      <Progress.Track bg="soft">
        <Progress.Range bg="petrol" />
      </Progress.Track>
    </Progress.Root>
  );
}
