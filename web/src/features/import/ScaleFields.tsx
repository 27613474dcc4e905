import { Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { NumberField, QuietButton, Select } from "../../ui";
import type { ChannelSetup } from "./setup";

type Props = {
  own: ChannelSetup;
  unit: string;
  presets: Schemas["ScalePreset"][];
  onPick: (change: Partial<ChannelSetup>) => void;
};

/** What a zero that was typed does to every value, so that volts taken for amperes are seen at once. */
function Moves({ own, presets }: Pick<Props, "own" | "presets">) {
  const scale = own.scale;
  const known = scale?.kind === "preset" ? presets.find((p) => p.id === scale.id) : scale?.kind === "line" ? scale : undefined;
  if (!known || !own.zero) return null;
  return (
    <Text fontSize="13px" color="mute" role="status">
      moves every value by {(-known.scale * own.zero).toLocaleString("en", { maximumFractionDigits: 1 })} {known.unit}
    </Text>
  );
}

type Points = Extract<NonNullable<ChannelSetup["scale"]>, { kind: "two_points" }>;

/** What the volts mean: nothing, a usual clamp or transducer, a line, or two known readings; the clamp's zero and way. */
export function ScaleFields({ own, unit, presets, onPick }: Props) {
  const fitting = presets.filter((p) => p.role === own.role);
  if (!fitting.length) return null;
  const scale = own.scale ?? null;
  const value = scale === null ? "none" : scale.kind === "preset" ? scale.id : scale.kind;
  const pick = (chosen: string) => {
    if (chosen === "none") onPick({ scale: null });
    else if (chosen === "line") onPick({ scale: { kind: "line", scale: 1, offset: 0, unit: fitting[0]?.unit ?? unit } });
    else if (chosen === "two_points")
      onPick({ scale: { kind: "two_points", raw_1: 0, value_1: 0, raw_2: 1, value_2: 1, unit: fitting[0]?.unit ?? unit } });
    else onPick({ scale: { kind: "preset", id: chosen } });
  };
  const points = (change: Partial<Points>) => {
    if (scale?.kind === "two_points") onPick({ scale: { ...scale, ...change } });
  };
  return (
    <Flex gap="2" align="center" wrap="wrap">
      <Select
        label="Scale"
        hideLabel
        value={value}
        options={[
          { value: "none", text: `in ${unit}, as recorded` },
          ...fitting.map((p) => ({ value: p.id, text: p.name })),
          { value: "line", text: "value = raw × a + b" },
          { value: "two_points", text: "two known readings" },
        ]}
        onPick={pick}
      />
      {scale?.kind === "line" && (
        <>
          <NumberField label="a" value={scale.scale} onChange={(v) => onPick({ scale: { ...scale, scale: v } })} />
          <NumberField label="b" value={scale.offset} onChange={(v) => onPick({ scale: { ...scale, offset: v } })} after={scale.unit} />
        </>
      )}
      {scale?.kind === "two_points" && (
        <>
          <NumberField label="reads" value={scale.raw_1} onChange={(v) => points({ raw_1: v })} after={unit} />
          <NumberField label="is" value={scale.value_1} onChange={(v) => points({ value_1: v })} after={scale.unit} />
          <NumberField label="reads" value={scale.raw_2} onChange={(v) => points({ raw_2: v })} after={unit} />
          <NumberField label="is" value={scale.value_2} onChange={(v) => points({ value_2: v })} after={scale.unit} />
        </>
      )}
      {own.role === "starter_current" && (
        <>
          <NumberField label="reads at rest" value={own.zero} onChange={(v) => onPick({ zero: v })} after={unit} />
          <Moves own={own} presets={presets} />
          <QuietButton aria-pressed={own.turned} onClick={() => onPick({ turned: !own.turned })}>
            {own.turned ? "Turned round" : "Right way round"}
          </QuietButton>
        </>
      )}
    </Flex>
  );
}
