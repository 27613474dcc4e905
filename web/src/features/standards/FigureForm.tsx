/** A figure from elsewhere: counted in wheel teeth, in degrees, between two pulses, or read off a picture. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { ActionButton, Choice, PlainInput, QuietButton, Select } from "../../ui";

type Figure = Schemas["Figure"];
type Form = Figure["form"];

const FORMS: { value: Form; text: string }[] = [
  { value: "teeth", text: "Wheel teeth" },
  { value: "degrees", text: "° after tooth 1" },
  { value: "tdc_degrees", text: "° after TDC 1" },
  { value: "between", text: "Between pulses" },
  { value: "picture", text: "Off a picture" },
];

const HINTS: Record<Form, string> = {
  teeth: "Tooth 1 is the first after the gap and stands at 0; 1.0 is one tooth further.",
  degrees: "Crank degrees from tooth 1, the first after the gap, to the edge.",
  tdc_degrees: "Crank degrees from cylinder 1's firing TDC to the edge.",
  between: "Tooth number and part of the way to the next: 24.5 is the middle between teeth 24 and 25.",
  picture: "Places along a ruler, on paper or in pixels: one gap, the next one, and the edge between or beside them.",
};

type Props = { lanes: Schemas["CamLane"][]; pending: boolean; onKeep: (figure: Figure) => void; onClose: () => void };

export function FigureForm({ lanes, pending, onKeep, onClose }: Props) {
  const [cam, setCam] = useState(lanes[0]?.cam ?? "");
  const [edge, setEdge] = useState("0");
  const [form, setForm] = useState<Form>("teeth");
  const [side, setSide] = useState<"after" | "before">("after");
  const [counted, setCounted] = useState<"yes" | "no">("yes");
  const [value, setValue] = useState("");
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [turns, setTurns] = useState("1");
  const [reading, setReading] = useState("0.5");
  const [u95, setU95] = useState("");
  const [source, setSource] = useState("");
  const lane = lanes.find((one) => one.cam === cam);
  const picture = form === "picture";
  const numbers = [value, ...(picture ? [from, to, reading, turns] : [])].map(numberOf);
  const ready = numbers.every((one) => one !== null) && (!picture || numberOf(from) !== numberOf(to));
  const keep = () => {
    const at = numberOf(value);
    if (!ready || at === null) return;
    onKeep({
      cam,
      edge: Number(edge),
      form,
      value: at,
      side,
      counted: counted === "yes",
      source,
      turns: picture ? (numberOf(turns) ?? 1) : 1,
      from_mark: picture ? numberOf(from) : null,
      to_mark: picture ? numberOf(to) : null,
      reading: picture ? numberOf(reading) : null,
      u95: numberOf(u95),
    });
  };
  return (
    <Box borderWidth="1px" borderColor="line" rounded="sm" p="3" maxW="820px" data-testid="figure-form" role="form" aria-label="A figure from elsewhere">
      <Flex gap="3" wrap="wrap" align="flex-end">
        <Select label="Cam" value={cam} options={lanes.map((one) => ({ value: one.cam, text: one.name }))} onPick={setCam} />
        <Select
          label="Edge"
          value={edge}
          options={(lane?.edges ?? []).map((one) => ({ value: String(one.edge), text: `${String(one.edge + 1)}, ${one.kind}` }))}
          onPick={setEdge}
        />
        <Choice label="Given in" options={FORMS} value={form} onPick={setForm} />
      </Flex>
      <Text fontSize="13px" color="mute" my="1.5">
        {HINTS[form]}
      </Text>
      <Flex gap="3" wrap="wrap" align="flex-end">
        {picture && <Entry label="One gap at" value={from} onChange={setFrom} />}
        {picture && <Entry label="Next gap at" value={to} onChange={setTo} />}
        <Entry label={picture ? "Edge at" : "Figure"} value={value} onChange={setValue} />
        {picture && <Entry label="Read to within ±" value={reading} onChange={setReading} />}
        {picture && <Entry label="Turns between the gaps" value={turns} onChange={setTurns} />}
        {!picture && <Entry label="Known to within ±" value={u95} onChange={setU95} hint="last place" optional />}
        {form === "teeth" && (
          <>
            <Choice
              label="Side"
              options={[
                { value: "after", text: "After the gap" },
                { value: "before", text: "Before it" },
              ]}
              value={side}
              onPick={setSide}
            />
            <Choice
              label="Missing teeth"
              options={[
                { value: "yes", text: "Counted" },
                { value: "no", text: "Left out" },
              ]}
              value={counted}
              onPick={setCounted}
            />
          </>
        )}
        <Entry label="From" value={source} onChange={setSource} width={180} hint="workshop note, page ..." optional text />
      </Flex>
      <Flex gap="2" mt="2.5">
        <ActionButton onClick={keep} disabled={!ready || pending}>
          Compare with it
        </ActionButton>
        <QuietButton onClick={onClose}>Close</QuietButton>
      </Flex>
    </Box>
  );
}

type EntryProps = { label: string; value: string; onChange: (value: string) => void; hint?: string; width?: number; optional?: boolean; text?: boolean };

export function Entry({ label, value, onChange, hint, width = 84, optional = false, text = false }: EntryProps) {
  const wrong = !text && value.trim() !== "" && numberOf(value) === null;
  return (
    <Box asChild fontSize="13px">
      <label>
        <Text color="mute" fontSize="13px">
          {label}
          {optional && ", if known"}
        </Text>
        <PlainInput aria-label={label} inputMode={text ? "text" : "decimal"} placeholder={hint} width={width} wrong={wrong} value={value} maxLength={200} onChange={(event) => onChange(event.target.value)} />
      </label>
    </Box>
  );
}

export function numberOf(text: string): number | null {
  const bare = text.trim().replace(",", ".");
  const number = Number(bare);
  return bare === "" || !Number.isFinite(number) ? null : number;
}
