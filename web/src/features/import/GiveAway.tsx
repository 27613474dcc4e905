import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { apiPath } from "../../api/base";
import { QuietButton, Select } from "../../ui";

const FORMATS = ["CSV", "WAV", "HDF5", "MDF4", "Parquet"] as const;

/** The capture in another open format, or as one zip with engine and result for a colleague. */
export function GiveAway({ captureId }: { captureId: number }) {
  const [format, setFormat] = useState<string>("CSV");
  const base = apiPath(`/api/captures/${String(captureId)}`);
  return (
    <Flex gap="2" mt="4" align="center" wrap="wrap" role="group" aria-label="Export">
      <Text color="mute" fontSize="13px">
        Export
      </Text>
      <Select label="Format" hideLabel value={format} options={FORMATS.map((f) => ({ value: f, text: f }))} onPick={setFormat} />
      <QuietButton asChild>
        <a href={`${base}/export?format=${format}`} download>
          As {format}
        </a>
      </QuietButton>
      <QuietButton asChild>
        <a href={`${base}/bundle`} download>
          For a colleague
        </a>
      </QuietButton>
      <QuietButton asChild>
        <a href={`${base}/bundle?with_vehicle=false`} download>
          For a colleague, without the vehicle
        </a>
      </QuietButton>
    </Flex>
  );
}
