/** The words of the trade with a drawing each; those of the station that is open come first. */
import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { glossaryQuery } from "../../api/queries";
import { ErrorNote, PlainInput, Sheet, Waiting } from "../../ui";

type Word = Schemas["Word"];
type Props = { open: boolean; station: string | null; onClose: () => void };

export function GlossarySheet({ open, station, onClose }: Props) {
  return (
    <Sheet title="Words" open={open} onClose={onClose}>
      {open && <Words station={station} />}
    </Sheet>
  );
}

function Words({ station }: { station: string | null }) {
  const words = useQuery(glossaryQuery);
  const [sought, setSought] = useState("");
  if (words.isPending) return <Waiting>Reading the words</Waiting>;
  if (words.isError) return <ErrorNote error={words.error} onRetry={() => void words.refetch()} />;
  const found = words.data.filter((word) => `${word.name} ${word.meaning} ${word.more}`.toLowerCase().includes(sought.trim().toLowerCase()));
  const here = found.filter((word) => station !== null && word.stations.includes(station));
  const others = found.filter((word) => !here.includes(word));
  return (
    <Box data-testid="glossary">
      <PlainInput aria-label="Find a word" placeholder="Find a word" width={260} wrong={false} value={sought} onChange={(event) => setSought(event.target.value)} />
      {here.length > 0 && <Listed title="At this station" words={here} />}
      {others.length > 0 && <Listed title={here.length ? "Elsewhere" : "All words"} words={others} />}
      {!found.length && <Text mt="3">No word says that. Try a shorter one.</Text>}
    </Box>
  );
}

function Listed({ title, words }: { title: string; words: Word[] }) {
  return (
    <Box as="section" mt="4">
      <Text as="h3" fontSize="13px" color="mute" fontWeight="650">
        {title}
      </Text>
      {words.map((word) => (
        <Box key={word.id} py="3" borderBottomWidth="1px" borderColor="line">
          <Text as="h4" fontSize="17px" fontWeight="700">
            {word.name}
          </Text>
          <Picture svg={word.drawing} />
          <Text>{word.meaning}</Text>
          <Text color="mute" fontSize="14px">
            {word.more}
          </Text>
        </Box>
      ))}
    </Box>
  );
}

/** A drawing that this program itself made: nothing that a person wrote is in it. */
function Picture({ svg }: { svg: string }) {
  return <Box my="1" css={{ "& svg": { maxWidth: "100%", height: "auto" } }} dangerouslySetInnerHTML={{ __html: svg }} />;
}
