import { Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { QuietButton } from "../../ui";
import { timeWords } from "./span";
import type { SignalView } from "./view";

type Props = {
  view: SignalView;
  cycles: boolean;
  places: boolean;
  onMark: (() => void) | undefined;
  lanesOpen: boolean;
  onLanes: () => void;
  onSave: (kind: "png" | "svg") => void;
  children?: ReactNode;
};

/** Everything that can be done to the view by mouse or finger. */
export function SignalTools({ view, cycles, places, onMark, lanesOpen, onLanes, onSave }: Props) {
  const { span } = view;
  return (
    <Flex gap="2" mb="2" align="center" wrap="wrap">
      <QuietButton onClick={() => view.zoomBy(0.5)}>Closer</QuietButton>
      <QuietButton onClick={() => view.zoomBy(2)}>Wider</QuietButton>
      <QuietButton onClick={() => view.panBy(-0.5)} aria-label="Earlier in time">
        ◂
      </QuietButton>
      <QuietButton onClick={() => view.panBy(0.5)} aria-label="Later in time">
        ▸
      </QuietButton>
      <QuietButton onClick={view.wholeCapture}>Whole capture</QuietButton>
      {cycles && <QuietButton onClick={view.oneCycle}>One cycle</QuietButton>}
      {cycles && (
        <QuietButton onClick={view.one720} title="720 degrees from the left edge on; key 7">
          720°
        </QuietButton>
      )}
      {places && <QuietButton onClick={() => view.jump(1)}>Next place</QuietButton>}
      {onMark && <QuietButton onClick={onMark}>Mark at A</QuietButton>}
      <QuietButton onClick={onLanes} aria-expanded={lanesOpen}>
        Lanes
      </QuietButton>
      <QuietButton onClick={() => onSave("png")}>PNG</QuietButton>
      <QuietButton onClick={() => onSave("svg")}>SVG</QuietButton>
      <Text color="mute" fontSize="13px" data-testid="span">
        {timeWords(span.from, span)} to {timeWords(span.to, span)} s
      </Text>
    </Flex>
  );
}
