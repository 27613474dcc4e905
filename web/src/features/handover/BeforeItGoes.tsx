/** What has to be said before the papers go out: insulation closed again, parts on order, what the owner should know. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { handOverWordsQuery } from "../../api/closing-queries";
import type { Told } from "../../api/told";
import { Choice, PanelTitle, PlainInput, QuietButton, Select } from "../../ui";
import { INSULATION } from "./words";

type Change = (now: Told) => Told;
type Props = { told: Told; doc: Schemas["HandOver"]; onChange: (change: Change) => void };
type Ordered = NonNullable<Told["ordered"]>[number];

export function BeforeItGoes({ told, doc, onChange }: Props) {
  const insulation = told.hook_up?.insulation ?? "unknown";
  return (
    <Box as="section" aria-label="Before it goes out" mb="6">
      <PanelTitle note="it stands on the pages">Before it goes out</PanelTitle>
      <Choice
        label="Pierced insulation"
        options={INSULATION}
        value={insulation}
        onPick={(value) => onChange((now) => ({ ...now, hook_up: { ...hookUpOf(now), insulation: value } }))}
      />
      <OrderedParts told={told} notNeeded={doc.not_needed} onChange={onChange} />
      <ForOwner key={told.for_owner} text={told.for_owner} onKeep={(text) => onChange((now) => ({ ...now, for_owner: text }))} />
    </Box>
  );
}

function hookUpOf(told: Told): NonNullable<Told["hook_up"]> {
  return told.hook_up ?? { question: "", channels: 4, fuel_off: "", clear_flood: "unknown", insulation: "unknown" };
}

function OrderedParts({ told, notNeeded, onChange }: { told: Told; notNeeded: string[]; onChange: (change: Change) => void }) {
  const words = useQuery(handOverWordsQuery);
  const parts = Object.entries(words.data?.parts ?? {});
  const [part, setPart] = useState("");
  const [text, setText] = useState("");
  const ordered = told.ordered ?? [];
  return (
    <Box mt="2">
      {ordered.map((one, i) => (
        <Flex key={`${one.part} ${String(i)}`} gap="3" align="center" fontSize="13.5px" mb="1" wrap="wrap" data-testid="ordered">
          <Text>
            On order: <b>{one.text || words.data?.parts[one.part] || one.part}</b>
          </Text>
          <QuietButton
            aria-label={`Take out: ${one.text || one.part}`}
            onClick={() => onChange((now) => ({ ...now, ordered: (now.ordered ?? []).filter((_, k) => k !== i) }))}
          >
            Take out
          </QuietButton>
        </Flex>
      ))}
      {notNeeded.map((line) => (
        <Text key={line} fontSize="13.5px" fontWeight="600" mb="1" data-testid="not-needed">
          Not needed: {line}
        </Text>
      ))}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!part) return;
          onChange((now) => ({ ...now, ordered: [...(now.ordered ?? []), { part, text: text.trim() } as Ordered] }));
          setPart("");
          setText("");
        }}
      >
        <Flex gap="2" wrap="wrap" align="flex-end">
          <Select label="Part on order" value={part} options={[{ value: "", text: "Choose a part" }, ...parts.map(([value, name]) => ({ value, text: name }))]} onPick={setPart} />
          {part && (
            <>
              <PlainInput aria-label="Which one" placeholder="Which one" width={200} wrong={false} maxLength={200} value={text} onChange={(event) => setText(event.target.value)} />
              <QuietButton type="submit">Add</QuietButton>
            </>
          )}
        </Flex>
      </form>
    </Box>
  );
}

function ForOwner({ text, onKeep }: { text: string; onKeep: (text: string) => void }) {
  const [written, setWritten] = useState(text);
  return (
    <Box asChild mt="2" display="block" fontSize="13px">
      <label>
        <Text color="mute" fontSize="13px">
          For the owner besides
        </Text>
        <textarea
          aria-label="For the owner besides"
          rows={2}
          maxLength={2000}
          value={written}
          onChange={(event) => setWritten(event.target.value)}
          onBlur={() => written !== text && onKeep(written)}
          style={{
            width: "100%",
            maxWidth: 620,
            padding: "5px 6px",
            fontSize: 13.5,
            color: "var(--chakra-colors-ink)",
            background: "var(--chakra-colors-panel)",
            border: "1px solid var(--chakra-colors-edge)",
            borderRadius: 4,
          }}
        />
      </label>
    </Box>
  );
}
