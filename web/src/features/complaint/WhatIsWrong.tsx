/** The complaint itself: words, symptoms, when, since when, distance, the lamp. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import type { Told } from "../../api/told";
import { Choice, Labelled, OnOff, PanelTitle, PlainInput } from "../../ui";
import { OilRow } from "./OilRow";
import { complaintOf, LAMP, SYMPTOMS, WHEN } from "./words";

type Complaint = Schemas["Complaint"];
type Props = { jobId: number; told: Told; lamp: string | null; onChange: (change: (told: Told) => Told) => void };

export function WhatIsWrong({ jobId, told, lamp, onChange }: Props) {
  const complaint = complaintOf(told);
  const change = (part: Partial<Complaint>) => onChange((now) => ({ ...now, complaint: { ...complaintOf(now), ...part } }));
  return (
    <Box as="section" aria-label="What is wrong">
      <PanelTitle note="in the driver's words, and by choice">What is wrong</PanelTitle>
      <Flex gap="2" wrap="wrap" mb="2">
        <Words field="complaint" label="Complaint" held={complaint.text} width={430} most={2000} onKeep={(text) => change({ text })} />
        <Words field="since" label="Since when" held={complaint.since} width={200} most={200} onKeep={(since) => change({ since })} />
        <Whole
          field="distance"
          label="Distance, km"
          held={complaint.distance_km ?? null}
          from={0}
          most={1_000_000}
          onKeep={(distance_km) => change({ distance_km })}
        />
        <Whole
          field="built"
          label="Built in"
          held={complaint.built_year ?? null}
          from={1900}
          most={2100}
          onKeep={(built_year) => change({ built_year })}
        />
      </Flex>
      <Several label="It" options={SYMPTOMS} picked={complaint.symptoms ?? []} onPick={(symptoms) => change({ symptoms })} />
      <Several label="When" options={WHEN} picked={complaint.when ?? []} onPick={(when) => change({ when })} />
      <Flex gap="3" mt="1.5" align="center" wrap="wrap">
        <Choice
          label="Lamp"
          options={LAMP}
          value={complaint.lamp ?? "unseen"}
          onPick={(value) => change({ lamp: value === "unseen" ? null : value })}
        />
        {lamp && <Text fontSize="13px">{lamp}</Text>}
      </Flex>
      <Flex mt="1.5">
        <OilRow jobId={jobId} />
      </Flex>
    </Box>
  );
}

type SeveralProps<T extends string> = {
  label: string;
  options: readonly { value: T; text: string }[];
  picked: readonly T[];
  onPick: (picked: T[]) => void;
};

/** Any of a few, all of them in view. */
function Several<T extends string>({ label, options, picked, onPick }: SeveralProps<T>) {
  return (
    <Flex role="group" aria-label={label} gap="1.5" wrap="wrap" align="center" mb="1.5">
      <Text color="mute" fontSize="13px" w="36px">
        {label}
      </Text>
      {options.map((option) => {
        const on = picked.includes(option.value);
        return (
          <OnOff key={option.value} on={on} onClick={() => onPick(on ? picked.filter((one) => one !== option.value) : [...picked, option.value])}>
            {option.text}
          </OnOff>
        );
      })}
    </Flex>
  );
}

type WordsProps = { field: string; label: string; held: string; width: number; most: number; onKeep: (text: string) => void };

/** Words that are kept on leaving the field or with Enter. */
function Words({ most, ...rest }: WordsProps) {
  return <KeptField key={rest.held} {...rest} most={most} isWrong={() => false} />;
}

type WholeProps = { field: string; label: string; held: number | null; from: number; most: number; onKeep: (whole: number | null) => void };

/** A whole number from one to another, or none, however its thousands are set apart. */
function Whole({ field, label, held, from, most, onKeep }: WholeProps) {
  const wholeOf = (text: string) => (text.replace(/[\s.,]/g, "") === "" ? null : Number(text.replace(/[\s.,]/g, "")));
  const isWrong = (text: string) => {
    const whole = wholeOf(text);
    return whole !== null && !(whole >= from && whole <= most);
  };
  const shown = held === null ? "" : String(held);
  return <KeptField key={shown} field={field} label={label} held={shown} width={100} most={12} isWrong={isWrong} onKeep={(text) => onKeep(wholeOf(text))} />;
}

function KeptField({ field, label, held, width, most, isWrong, onKeep }: WordsProps & { isWrong: (text: string) => boolean }) {
  const [text, setText] = useState(held);
  const keep = () => {
    if (text.trim() !== held && !isWrong(text)) onKeep(text.trim());
  };
  return (
    <Labelled label={label}>
        <PlainInput
          data-field={field}
          aria-label={label}
          width={width}
          wrong={isWrong(text)}
          maxLength={most}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={keep}
          onKeyDown={(event) => {
            if (event.key === "Enter") keep();
            if (event.key === "Escape") event.currentTarget.blur();
          }}
        />
    </Labelled>
  );
}
