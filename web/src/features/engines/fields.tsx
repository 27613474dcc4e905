/** Fields of the profile form: each writes one place of the draft and shows what is wrong there. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { createContext, useContext, useId, useState } from "react";

import type { Schemas } from "../../api/client";
import { PlainInput, Select } from "../../ui";
import { at, type Draft, type Json, listOf, numberOf, numbersAt, type Path, textAt, withAt } from "./draft";

export type Form = { draft: Draft; faults: Schemas["DocumentFault"][]; set: (draft: Draft) => void };

const FormContext = createContext<Form>({ draft: {}, faults: [], set: () => undefined });
export const FormProvider = FormContext.Provider;

export function useForm(): Form & { put: (path: Path, value: Json | undefined) => void } {
  const form = useContext(FormContext);
  return { ...form, put: (path, value) => form.set(withAt(form.draft, path, value)) };
}

type Own = { label: string; path: Path; width?: number; after?: string; hint?: string };

/** A typed field that shows what `read` finds at its place and writes what `parse` makes of the text; `null` is no such
 * value yet and changes nothing. */
function fieldOf(read: (draft: Draft, path: Path) => string, parse: (text: string) => Json | undefined | null, usual: number, numeric: boolean) {
  return function Field({ path, width = usual, ...rest }: Own) {
    const { draft, put } = useForm();
    const commit = (text: string) => {
      const value = parse(text);
      if (value !== null) put(path, value);
      return value !== null;
    };
    return <TypedField path={path} width={width} numeric={numeric} shown={read(draft, path)} commit={commit} {...rest} />;
  };
}

export const TextAt = fieldOf(textAt, (text) => (text === "" ? undefined : text), 150, false);

export const NumberAt = fieldOf(textAt, numberOf, 84, true);

export const NumbersAt = fieldOf((draft, path) => numbersAt(draft, path).join("  "), listOf, 220, true);

type PickProps = Own & { options: readonly (readonly [string, string])[]; unknown?: string };

/** One of a few words; the first option is the field left out, unless it has to be there. */
export function PickAt({ label, path, options, unknown }: PickProps) {
  const { draft, put } = useForm();
  const all = options.map(([value, text]) => ({ value, text }));
  return (
    <Select
      label={label}
      value={textAt(draft, path)}
      options={unknown === undefined ? all : [{ value: "", text: unknown }, ...all]}
      onPick={(value) => put(path, value === "" ? undefined : value)}
    />
  );
}

export function YesNoAt({ label, path }: Own) {
  const { draft, put } = useForm();
  const now = at(draft, path);
  return (
    <Select
      label={label}
      value={now === true ? "yes" : now === false ? "no" : ""}
      options={[
        { value: "", text: "not known" },
        { value: "yes", text: "yes" },
        { value: "no", text: "no" },
      ]}
      onPick={(value) => put(path, value === "" ? undefined : value === "yes")}
    />
  );
}

type Typed = {
  label: string;
  path: Path;
  width: number;
  after?: string | undefined;
  hint?: string | undefined;
  numeric?: boolean;
  shown: string;
  commit: (text: string) => boolean;
};

/** Keeps what is being typed, even where it is no number yet; that is marked and changes nothing. */
export function TypedField({ label, path, width, after, hint, numeric = false, shown, commit }: Typed) {
  const { faults } = useForm();
  const [typed, setTyped] = useState<{ text: string; read: boolean } | null>(null);
  const id = useId();
  const place = path.join(".");
  const fault = faults.find((f) => f.field === place || f.field.startsWith(`${place}.`));
  const wrong = typed?.read === false || fault !== undefined;
  return (
    <Box>
      <label htmlFor={id}>
        <Text color="mute" fontSize="13px" mb="0.5">
          {label}
        </Text>
      </label>
      <Flex align="center" gap="1">
        <PlainInput
          id={id}
          name={place}
          inputMode={numeric ? "decimal" : "text"}
          placeholder={hint}
          title={fault?.text}
          width={width}
          wrong={wrong}
          aria-describedby={fault ? `${id}-fault` : undefined}
          value={typed?.text ?? shown}
          onChange={(event) => setTyped({ text: event.target.value, read: commit(event.target.value.trim()) })}
          onBlur={() => setTyped(null)}
        />
        {after && (
          <Text color="mute" fontSize="13px">
            {after}
          </Text>
        )}
      </Flex>
      {fault && (
        <Text id={`${id}-fault`} color="late" fontSize="13px" maxW="240px" data-testid="field-fault">
          {fault.text.replace(/^[^:]{1,60}: /, "")}
        </Text>
      )}
    </Box>
  );
}
