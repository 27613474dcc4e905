/** A few fields in a row that are saved together with Enter or the button; what went wrong stands below. */
import { Flex } from "@chakra-ui/react";
import type { UseMutationResult } from "@tanstack/react-query";
import type { ReactNode } from "react";

import { ActionButton } from "./buttons";
import { ErrorNote } from "./notes";

type Props = { saving: UseMutationResult<unknown, Error, void>; disabled?: boolean; children: ReactNode };

export function SmallForm({ saving, disabled = false, children }: Props) {
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        saving.mutate();
      }}
    >
      <Flex gap="2" wrap="wrap" align="flex-end">
        {children}
        <ActionButton type="submit" h="32px" fontSize="13px" disabled={disabled || saving.isPending}>
          Save
        </ActionButton>
      </Flex>
      {saving.isError && <ErrorNote error={saving.error} onClose={saving.reset} />}
    </form>
  );
}
