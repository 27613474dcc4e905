/** Something over the screen that closes with Esc, with its cross, or by a press beside it. */
import { CloseButton, Dialog, Portal } from "@chakra-ui/react";
import type { ReactNode } from "react";

type Props = { title: string; open: boolean; onClose: () => void; narrow?: boolean; children: ReactNode };

export function Sheet({ title, open, onClose, narrow = false, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={(e) => !e.open && onClose()} size={narrow ? "sm" : "md"}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="panel" color="ink">
            <Dialog.Header>
              <Dialog.Title fontSize="22px">{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="6">{children}</Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" aria-label="Close" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
