import { Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import type { Schemas } from "../../api/client";
import { ErrorNote, FileButton } from "../../ui";
import { storeProfile } from "./store";

/** Stores an engine profile from a file; its faults are said field by field. */
export function ImportProfile({ onStored }: { onStored: (engine: Schemas["EngineSummary"]) => void }) {
  const changes = useChanges();
  const store = useMutation({
    mutationFn: (file: File) => storeProfile(file),
    onSuccess: async (engine) => {
      await changes.engineStored();
      onStored(engine);
    },
  });
  return (
    <Flex direction="column" flex="none" gap="1">
      <FileButton name="Engine profile file" accept=".json" loading={store.isPending} onFile={(file) => store.mutate(file)}>
        Import a profile
      </FileButton>
      {store.isError && <ErrorNote error={store.error} onClose={() => store.reset()} />}
    </Flex>
  );
}
