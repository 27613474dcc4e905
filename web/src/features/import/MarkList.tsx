/** The moments that a person marked, each with what happened then. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { PlainInput, QuietButton } from "../../ui";
import type { Marks } from "./marks";

type Mark = Schemas["Mark"];
type Props = { marks: Mark[]; onName: Marks["name"]; onTakeOut: Marks["takeOut"] };

export function MarkList({ marks, onName, onTakeOut }: Props) {
  if (!marks.length) return null;
  return (
    <Box as="ul" listStyleType="none" mt="2" aria-label="Marks">
      {marks.map((mark, i) => (
        <Flex as="li" key={`${String(mark.t_s)} ${String(atSameMoment(marks.slice(0, i), mark))}`} gap="2" align="center" mb="1">
          <Text fontSize="13px" w="80px">
            {mark.t_s.toFixed(3)} s
          </Text>
          <Words mark={mark} onName={onName} />
          <QuietButton onClick={() => onTakeOut(mark)} aria-label={`Take out the mark at ${mark.t_s.toFixed(3)} s`}>
            Take out
          </QuietButton>
        </Flex>
      ))}
    </Box>
  );
}

function atSameMoment(marks: Mark[], mark: Mark): number {
  return marks.filter((one) => one.t_s === mark.t_s).length;
}

/** What is typed stands until it is stored; a colleague's words come in where nothing is typed. */
function Words({ mark, onName }: { mark: Mark; onName: Marks["name"] }) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    if (typed === null) return;
    if (typed === mark.text) setTyped(null);
    else void onName(mark, typed).then((stored) => stored !== undefined && setTyped(null));
  };
  return (
    <PlainInput
      width={240}
      wrong={false}
      value={typed ?? mark.text}
      placeholder="what happened then"
      aria-label={`What happened at ${mark.t_s.toFixed(3)} s`}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
