import { CloseButton, Dialog, Flex, Kbd, Portal, Text } from "@chakra-ui/react";

const KEYS: [string, string][] = [
  ["1 – 9", "Go to that station of the job"],
  ["B", "Bay board"],
  ["G", "Engines"],
  ["N", "New job (on the board), new engine (Engines)"],
  ["↑ ↓ Enter", "Pick and open a job (on the board)"],
  ["← →", "Step through the cycles (Phase)"],
  ["0", "All cycles together again (Phase)"],
  ["E, Shift E", "Loupe on the next or previous edge (Phase)"],
  ["L", "Loupe on or off (Phase)"],
  ["T", "Degrees, wheel teeth after or before the gap (Phase)"],
  ["I, Shift I", "Next or previous irregularity (Phase)"],
  ["R", "Raw signals and rulers (Phase)"],
  ["← → ↑ ↓", "Pan and zoom (signals, once picked)"],
  ["F, C, 7, N, P", "Whole capture, one cycle, 720° from here, next or previous place (signals)"],
  ["A, B, M", "Ruler A or B to the middle, mark at A (signals)"],
  ["A", "Add a capture (Captures)"],
  ["O", "Signals and channels of the newest capture (Captures)"],
  ["Enter, Esc", "Confirm the channels, or leave them for later (Captures)"],
  ["U", "Undo taking a capture out (Captures)"],
  ["↑ ↓, ← →", "Walk through the list, give an answer (Look and listen)"],
  ["Backspace, U", "Take an answer back, undo that (Look and listen)"],
  ["C", "Open or fold the case"],
  ["D", "Under-bonnet mode or daylight"],
  ["?", "This list"],
];

export function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(e) => !e.open && onClose()} size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="panel" color="ink">
            <Dialog.Header>
              <Dialog.Title>Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="6">
              {KEYS.map(([key, does]) => (
                <Flex key={key} gap="4" py="1" align="baseline">
                  <Kbd w="92px" flex="none" justifyContent="center" bg="soft" color="ink">
                    {key}
                  </Kbd>
                  <Text>{does}</Text>
                </Flex>
              ))}
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" aria-label="Close" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
