import { Box, Flex, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";

import { ActionButton, useKeys } from "../../ui";

export function DropZone({ onFiles }: { onFiles: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const pick = () => input.current?.click();
  useKeys({ a: pick });
  return (
    <Flex
      align="center"
      gap="4"
      borderWidth="2px"
      borderStyle="dashed"
      borderColor={over ? "petrol" : "line"}
      bg={over ? "petrolSoft" : "panel"}
      rounded="md"
      px="5"
      py="5"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        onFiles([...event.dataTransfer.files]);
      }}
    >
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
