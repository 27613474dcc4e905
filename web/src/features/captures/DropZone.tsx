import { Box, Flex, Text } from "@chakra-ui/react";
import { useRef } from "react";

import { ActionButton, useKeys } from "../../ui";

/** Says that files may be dropped, and opens the list of files; the page itself catches what is dropped. */
export function DropZone({ onFiles }: { onFiles: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const pick = () => input.current?.click();
  useKeys({ a: pick });
  return (
    <Flex align="center" gap="4" borderWidth="2px" borderStyle="dashed" borderColor="line" bg="panel" rounded="md" px="5" py="5">
      <Box flex="1">
        <Text fontWeight="650" fontSize="16px">
          Drop one file or many, anywhere on the page
        </Text>
        <Text color="mute" fontSize="13px">
          What the scope exported: CSV, WAV, HDF5, MDF4, MAT, Parquet; with a description or without
        </Text>
      </Box>
      <ActionButton onClick={pick} title="Key A">
        Add a capture
      </ActionButton>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Capture files"
        data-testid="capture-files"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length) onFiles(files);
        }}
      />
    </Flex>
  );
}
