/** What was replaced, by whom, when, and what it did. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Told } from "../../api/told";
import { PanelTitle, PlainInput, QuietButton, Select } from "../../ui";
import { EFFECT, PARTS, type Replaced, SINCE, textOf } from "./words";

type Props = { told: Told; onChange: (change: (told: Told) => Told) => void };

export function ReplacedList({ told, onChange }: Props) {
  const replaced = told.replaced ?? [];
  const drop = (at: number) => onChange((now) => ({ ...now, replaced: (now.replaced ?? []).filter((_, i) => i !== at) }));
  return (
    <Box as="section" aria-label="What was replaced">
      <PanelTitle note="fitted just before it began: the first suspect; fitted in vain: not again">What was replaced</PanelTitle>
      {replaced.map((one, i) => (
        <Flex key={`${one.part} ${String(i)}`} gap="3" align="center" fontSize="13.5px" mb="1" wrap="wrap" data-testid="replaced">
          <Text fontWeight="600" minW="180px">
            {textOf(PARTS, one.part)}
          </Text>
          <Text>
            {[
              textOf(SINCE, one.when).toLowerCase(),
              textOf(EFFECT, one.effect).toLowerCase(),
              one.make,
              one.by ? `by ${one.by}` : "",
              one.at,
            ]
              .filter(Boolean)
              .join(", ")}
          </Text>
          <QuietButton aria-label={`Take out ${textOf(PARTS, one.part)}`} onClick={() => drop(i)}>
            Take out
          </QuietButton>
        </Flex>
      ))}
      <AddReplaced onAdd={(one) => onChange((now) => ({ ...now, replaced: [...(now.replaced ?? []), one] }))} />
    </Box>
  );
}

function AddReplaced({ onAdd }: { onAdd: (one: Replaced) => void }) {
  const [part, setPart] = useState("");
  const [when, setWhen] = useState("unknown");
  const [effect, setEffect] = useState("none");
  const [by, setBy] = useState("");
  const [make, setMake] = useState("");
  const [at, setAt] = useState("");
  const add = () => {
    if (!part) return;
    onAdd({ part, when, effect, by: by.trim(), make: make.trim(), at: at.trim() } as Replaced);
    setPart("");
    setBy("");
    setMake("");
    setAt("");
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <Flex gap="2" wrap="wrap" align="flex-end">
        <div data-part-select>
          <FieldSelect field="part" label="Part" value={part} options={[{ value: "", text: "Choose a part" }, ...PARTS]} onPick={setPart} />
        </div>
        {part && (
          <>
            <Select label="Fitted" value={when} options={SINCE} onPick={setWhen} />
            <Select label="It did" value={effect} options={EFFECT} onPick={setEffect} />
            <SmallWords label="Make" value={make} onType={setMake} />
            <SmallWords label="By whom" value={by} onType={setBy} />
            <SmallWords label="When, or at how many km" value={at} onType={setAt} />
            <QuietButton type="submit">Add</QuietButton>
          </>
        )}
      </Flex>
    </form>
  );
}

type FieldSelectProps = { field: string; label: string; value: string; options: readonly { value: string; text: string }[]; onPick: (value: string) => void };

/** A list that a key can go to. */
export function FieldSelect({ field, label, value, options, onPick }: FieldSelectProps) {
  return (
    <Box
      ref={(box: HTMLDivElement | null) => {
        box?.querySelector("select")?.setAttribute("data-field", field);
      }}
    >
      <Select label={label} value={value} options={options} onPick={onPick} />
    </Box>
  );
}

export function SmallWords({ label, value, onType, width = 130 }: { label: string; value: string; onType: (text: string) => void; width?: number }) {
  return (
    <Box asChild fontSize="13px">
      <label>
        <Text color="mute" fontSize="13px">
          {label}
        </Text>
        <PlainInput aria-label={label} width={width} wrong={false} maxLength={120} value={value} onChange={(event) => onType(event.target.value)} />
      </label>
    </Box>
  );
}
