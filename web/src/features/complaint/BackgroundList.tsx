/** What else is known of the car: accident, fire, wiring work, notices of the maker, what is typical of the engine. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Told } from "../../api/told";
import { PanelTitle, QuietButton, Select } from "../../ui";
import { FieldSelect, SmallWords } from "./ReplacedList";
import { type Background, EVENTS, FAULTS, SINCE, textOf } from "./words";

type Props = { told: Told; onChange: (change: (told: Told) => Told) => void };

export function BackgroundList({ told, onChange }: Props) {
  const known = told.background ?? [];
  const drop = (at: number) => onChange((now) => ({ ...now, background: (now.background ?? []).filter((_, i) => i !== at) }));
  return (
    <Box as="section" aria-label="What else is known">
      <PanelTitle note="moves the odds a little, never the decision">What else is known of the car</PanelTitle>
      {known.map((one, i) => (
        <Flex key={`${one.what} ${String(i)}`} gap="3" align="center" fontSize="13.5px" mb="1" wrap="wrap" data-testid="background">
          <Text fontWeight="600" minW="180px">
            {textOf(EVENTS, one.what)}
          </Text>
          <Text>
            {[one.fault ? textOf(FAULTS, one.fault).toLowerCase() : "", one.when === "unknown" ? "" : textOf(SINCE, one.when).toLowerCase(), one.text]
              .filter(Boolean)
              .join(", ")}
          </Text>
          <QuietButton aria-label={`Take out ${textOf(EVENTS, one.what)}`} onClick={() => drop(i)}>
            Take out
          </QuietButton>
        </Flex>
      ))}
      <AddBackground onAdd={(one) => onChange((now) => ({ ...now, background: [...(now.background ?? []), one] }))} />
    </Box>
  );
}

const NOTICES = ["bulletin", "reprogramming", "typical_failure"];

function AddBackground({ onAdd }: { onAdd: (one: Background) => void }) {
  const [what, setWhat] = useState("");
  const [when, setWhen] = useState("unknown");
  const [fault, setFault] = useState("");
  const [text, setText] = useState("");
  const notice = NOTICES.includes(what);
  const add = () => {
    if (!what) return;
    onAdd({ what, when: notice ? "unknown" : when, fault: notice && fault ? fault : null, text: text.trim() } as Background);
    setWhat("");
    setText("");
    setFault("");
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <Flex gap="2" wrap="wrap" align="flex-end">
        <FieldSelect field="event" label="What" value={what} options={[{ value: "", text: "Choose" }, ...EVENTS]} onPick={setWhat} />
        {what && (
          <>
            {notice ? (
              <Select label="About" value={fault} options={[{ value: "", text: "No fault of this list" }, ...FAULTS]} onPick={setFault} />
            ) : (
              <Select label="When" value={when} options={SINCE} onPick={setWhen} />
            )}
            <SmallWords label="In words" value={text} onType={setText} width={300} />
            <QuietButton type="submit">Add</QuietButton>
          </>
        )}
      </Flex>
    </form>
  );
}
