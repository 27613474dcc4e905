import { Box, Flex, Progress, Text } from "@chakra-ui/react";
import { useState } from "react";

import { ErrorNote, NumberField, QuietButton } from "../../ui";
import type { Upload } from "./upload";

type Props = { uploads: Upload[]; onClose: (name: string) => void; onRate: (name: string, rateHz: number) => void };

const STAGES: Record<string, string> = {
  waiting: "waiting for two other imports",
  reading: "reading the file",
  recognising: "recognising the signals",
  storing: "storing the samples",
};

export function UploadList({ uploads, onClose, onRate }: Props) {
  return (
    <Box mt={uploads.length ? "4" : "0"}>
      {uploads.map((upload) => (
        <Box key={upload.name} mb="2">
          <One upload={upload} onClose={() => onClose(upload.name)} onRate={(rate) => onRate(upload.name, rate)} />
        </Box>
      ))}
    </Box>
  );
}

function One({ upload, onClose, onRate }: { upload: Upload; onClose: () => void; onRate: (rateHz: number) => void }) {
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
          <Text color="mute">{STAGES[upload.stage] ?? "reading"}</Text>
          <QuietButton onClick={upload.cancel}>Cancel</QuietButton>
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
      return (
        <>
          <ErrorNote error={upload.error} onClose={onClose} />
          {upload.needsRate && <AskRate onRate={onRate} />}
        </>
      );
  }
}

/** A file that says nothing about time: how many samples a second were taken. */
function AskRate({ onRate }: { onRate: (rateHz: number) => void }) {
  const [kilo, setKilo] = useState(100);
  return (
    <Flex gap="2" mt="2" align="center">
      <NumberField label="Samples a second, in thousands" value={kilo} onChange={setKilo} after="kS/s" />
      <QuietButton disabled={!(kilo > 0)} onClick={() => onRate(1000 * kilo)}>
        Read it so
      </QuietButton>
    </Flex>
  );
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
