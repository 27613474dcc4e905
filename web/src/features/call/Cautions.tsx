import { Box, Text } from "@chakra-ui/react";

const WORDS: Record<string, { head: string; text: string }> = {
  stop_cranking: {
    head: "Stop cranking.",
    text: "Valves and pistons can meet in this engine. Look first; the maker's procedure and your shop's rules come first.",
  },
  inspect_valves: {
    head: "Before it runs again,",
    text: "check the valves for bending: leak-down or compression, after the timing is put right.",
  },
};

export function Cautions({ cautions }: { cautions: string[] }) {
  return (
    <>
      {cautions.map((caution) => {
        const words = WORDS[caution] ?? { head: "Take care:", text: caution.replaceAll("_", " ") };
        return (
          <Box key={caution} borderLeftWidth="4px" borderColor="late" pl="3" data-testid="caution">
            <Text fontSize="13.5px" lineHeight="1.4">
              <b>{words.head}</b> {words.text}
            </Text>
          </Box>
        );
      })}
    </>
  );
}
