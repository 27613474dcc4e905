/** A size under its words, to be dragged or moved with the arrow keys. */
import { Box, chakra, Flex, Text } from "@chakra-ui/react";

import { type Slider, sizeWords } from "./by-hand";

type Props = { slider: Slider; value: number; onChange: (value: number) => void; testid: string };

export function BenchSlider({ slider, value, onChange, testid }: Props) {
  return (
    <Box asChild fontSize="13px">
      <label>
        <Flex justify="space-between" gap="2">
          <Text>{slider.words}</Text>
          <Text fontWeight="650" fontVariantNumeric="tabular-nums" flex="none">
            {sizeWords(value, slider)}
          </Text>
        </Flex>
        <chakra.input
          type="range"
          min={slider.least}
          max={slider.most}
          step={slider.step}
          value={value}
          onChange={(event) => onChange(Number(event.target.value))}
          w="full"
          h="28px"
          accentColor="petrol"
          aria-valuetext={sizeWords(value, slider)}
          data-testid={testid}
        />
      </label>
    </Box>
  );
}
