/** A profile while it is written: plain JSON, fields reached by their path. What is left blank is absent. */
export type Json = string | number | boolean | null | Json[] | { [key: string]: Json | undefined };
export type Draft = { [key: string]: Json | undefined };
export type Path = readonly (string | number)[];

export const NEW_ENGINE: Draft = { schema: "phasko.engine/1", crank: { sensor: "hall" } };

export function at(draft: Json | undefined, path: Path): Json | undefined {
  let here: Json | undefined = draft;
  for (const step of path) {
    if (here === null || typeof here !== "object") return undefined;
    here = Array.isArray(here) ? here[Number(step)] : here[step];
  }
  return here;
}

/** The draft with one field changed; `undefined` takes it out, and with it whatever is left empty around it. */
export function withAt(draft: Draft, path: Path, value: Json | undefined): Draft {
  return (changed(draft, path, value) ?? {}) as Draft;
}

function changed(here: Json | undefined, path: Path, value: Json | undefined): Json | undefined {
  const [step, ...rest] = path;
  if (step === undefined) return value;
  if (Array.isArray(here)) {
    const items = [...here];
    const inner = changed(items[Number(step)], rest, value);
    if (inner === undefined) items.splice(Number(step), 1);
    else items[Number(step)] = inner;
    return items.length ? items : undefined;
  }
  if (typeof step === "number") {
    const inner = changed(undefined, rest, value);
    return inner === undefined ? undefined : [inner];
  }
  const fields: Draft = here !== null && typeof here === "object" ? here : {};
  const inner = changed(fields[step], rest, value);
  const kept = inner === undefined ? Object.entries(fields).filter(([name]) => name !== step) : Object.entries({ ...fields, [step]: inner });
  return kept.length ? Object.fromEntries(kept) : undefined;
}

export const listAt = (draft: Json | undefined, path: Path): Json[] => {
  const found = at(draft, path);
  return Array.isArray(found) ? found : [];
};

export const numbersAt = (draft: Json | undefined, path: Path): number[] => listAt(draft, path).map(Number);

export const textAt = (draft: Json | undefined, path: Path): string => {
  const found = at(draft, path);
  return typeof found === "string" || typeof found === "number" ? String(found) : "";
};

/** Numbers as a person lists them: blanks, semicolons or commas between; a comma inside is a decimal one. */
export function numbersOf(text: string): number[] | null {
  const bare = text.trim();
  if (bare === "") return [];
  const commasDivide = !/[\s;]/.test(bare) || /,\s/.test(bare);
  const parts = bare.split(commasDivide ? /[\s;,]+/ : /[\s;]+/).filter(Boolean);
  const found = parts.map((part) => Number(part.replace(",", ".").replace("°", "")));
  return found.every(Number.isFinite) ? found : null;
}

/** One number, a comma read as its decimal mark; `undefined` for nothing, `null` for no number. */
export function numberOf(text: string): number | undefined | null {
  const found = numbersOf(text.replace(",", "."));
  return found === null || found.length > 1 ? null : found[0];
}

/** A list of numbers; `undefined` for an empty one, `null` where something is no number. */
export function listOf(text: string): number[] | undefined | null {
  const found = numbersOf(text);
  return found?.length === 0 ? undefined : found;
}
