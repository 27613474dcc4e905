/** Codes: typed, pasted, sorted; each with its public title, what it really says and what sets it. */
import { Box, Flex, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { client, type Schemas, taken } from "../../api/client";
import { codeTitlesQuery } from "../../api/queries";
import type { Told } from "../../api/told";
import { ActionButton, Choice, ErrorNote, lowerFirst, PanelTitle, PlainInput, QuietButton, Select, Sheet } from "../../ui";
import { type Code, complaintOf, RETURNED, SORTED, STATUS, typedCode } from "./words";

type Change = (change: (told: Told) => Told) => void;
type Props = {
  told: Told;
  page: Schemas["ComplaintPage"];
  pasting: boolean;
  onPasting: (open: boolean) => void;
  scanning: boolean;
  onScan: () => void;
  onChange: Change;
};

export function CodeList({ told, page, pasting, onPasting, scanning, onScan, onChange }: Props) {
  const codes = told.codes ?? [];
  const put = (code: Code) => onChange((now) => ({ ...now, codes: joined(now.codes ?? [], [code]) }));
  const drop = (code: string) => onChange((now) => ({ ...now, codes: (now.codes ?? []).filter((one) => one.code !== code) }));
  return (
    <Box as="section" aria-label="Codes">
      <PanelTitle note="public titles; a title misleads, what sets it tells more">Codes</PanelTitle>
      <Flex gap="2" align="flex-start" wrap="wrap" mb="1">
        <TypedCode onAdd={put} />
        <QuietButton hint="P" onClick={() => onPasting(true)}>
          Paste from a scan tool
        </QuietButton>
        <QuietButton hint="S" onClick={onScan} loading={scanning}>
          Read the scan tool
        </QuietButton>
      </Flex>
      {page.misfires && (
        <Text fontSize="14px" fontWeight="650" mb="1" data-testid="misfires">
          {page.misfires.words}
        </Text>
      )}
      {codes.map((code) => {
        const told = page.codes.find((one) => one.code === code.code.trim().toUpperCase());
        return told && <CodeRow key={code.code} code={code} told={told} onPut={put} onDrop={() => drop(code.code)} />;
      })}
      {codes.length === 0 && (
        <Text fontSize="13px" color="mute">
          None noted. Note them before they are cleared; then see which come back.
        </Text>
      )}
      <Sheet title="Paste what the scan tool shows" open={pasting} onClose={() => onPasting(false)}>
        <PasteForm
          onTaken={(pasted) => {
            onChange((now) => withPasted(now, pasted));
            onPasting(false);
          }}
        />
      </Sheet>
    </Box>
  );
}

/** What stands in both is the newer one's; what a person said of the older one stays. */
export function joined(before: readonly Code[], more: readonly Code[]): Code[] {
  const found = new Map(before.map((one) => [one.code.toUpperCase(), one]));
  for (const one of more) found.set(one.code.toUpperCase(), { ...found.get(one.code.toUpperCase()), ...one });
  return [...found.values()];
}

function withPasted(now: Told, pasted: Schemas["Pasted"]): Told {
  const complaint = {
    ...complaintOf(now),
    ...(pasted.lamp ? { lamp: pasted.lamp } : {}),
    ...(pasted.distance_km !== null ? { distance_km: pasted.distance_km } : {}),
  };
  const kept = pasted.codes.map((one) => Object.fromEntries(Object.entries(one).filter(([, value]) => value !== null)) as Code);
  return { ...now, complaint, codes: joined(now.codes ?? [], kept) };
}

function TypedCode({ onAdd }: { onAdd: (code: Code) => void }) {
  const titles = useQuery(codeTitlesQuery);
  const [text, setText] = useState("");
  const code = typedCode(text);
  const begun = text.trim().toUpperCase();
  const title = code
    ? (titles.data?.[code.code.slice(0, 5)] ?? (/^P1|^[CBU]1/.test(code.code) ? "The maker's own code: no public title" : "No title ships for it"))
    : begun.length > 2
      ? matches(titles.data, begun)
      : "P0016, or P0016 pending";
  const add = () => {
    if (!code) return;
    onAdd(code);
    setText("");
  };
  return (
    <Flex gap="2" align="center">
      <PlainInput
        data-field="code"
        aria-label="Code"
        placeholder="Code"
        width={150}
        wrong={text.trim() !== "" && code === null && begun.length > 5}
        value={text}
        maxLength={30}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") add();
          if (event.key === "Escape") event.currentTarget.blur();
        }}
      />
      <QuietButton onClick={add} disabled={code === null}>
        Add
      </QuietButton>
      <Text fontSize="13px" color={code ? "ink" : "mute"} aria-live="polite" data-testid="typed-title">
        {title}
      </Text>
    </Flex>
  );
}

/** How many codes begin like that, and the first of them. */
function matches(titles: Record<string, string> | undefined, begun: string): string {
  const found = Object.keys(titles ?? {}).filter((code) => code.startsWith(begun));
  return found[0] ? `${found[0]} ${titles?.[found[0]] ?? ""}${found.length > 1 ? `, and ${String(found.length - 1)} more` : ""}` : "";
}

type RowProps = { code: Code; told: Schemas["ExplainedCode"]; onPut: (code: Code) => void; onDrop: () => void };

function CodeRow({ code, told, onPut, onDrop }: RowProps) {
  const frame = frameWords(code.freeze_frame);
  return (
    <Box borderBottomWidth="1px" borderColor="line" py="1.5" data-testid="code" data-code={told.code}>
      <Flex gap="3" align="center" wrap="wrap">
        <Text fontWeight="680" w="78px" flex="none" fontVariantNumeric="tabular-nums">
          {told.code}
        </Text>
        <Text flex="1 1 260px" fontWeight="600" overflowWrap="anywhere">
          {told.title ?? "No public title"}
        </Text>
        <Select label={`Status of ${told.code}`} hideLabel value={code.status} options={STATUS} onPick={(status) => onPut({ ...code, status: status as NonNullable<Code["status"]> })} />
        <Select
          label={`Came ${told.code} back`}
          hideLabel
          value={code.returned === true ? "yes" : code.returned === false ? "no" : "untried"}
          options={RETURNED}
          onPick={(value) => onPut({ ...code, returned: value === "untried" ? null : value === "yes" })}
        />
        <Choice label="" options={SORTED} value={told.sort} onPick={(sort) => onPut({ ...code, sort })} />
        <QuietButton aria-label={`Take out ${told.code}`} onClick={onDrop}>
          Take out
        </QuietButton>
      </Flex>
      <Text fontSize="13px" mt="0.5" maxW="900px">
        {told.says}
        {told.set_by && ` Set by: ${lowerFirst(told.set_by)}`}
        {told.one_with && ` It is one piece of evidence with ${told.one_with}.`}
      </Text>
      <Text fontSize="13px" color="mute" maxW="900px">
        {told.status}
        {frame && ` At that moment: ${frame}.`}
      </Text>
    </Box>
  );
}

function frameWords(frame: Schemas["FreezeFrame"] | null | undefined): string {
  if (!frame) return "";
  const parts: [number | null | undefined, string][] = [
    [frame.rpm, "rpm"],
    [frame.speed_kmh, "km/h"],
    [frame.coolant_c, "°C coolant"],
    [frame.load_percent, "% load"],
    [frame.battery_v, "V"],
    [frame.distance_km, "km"],
  ];
  const said = parts.filter(([value]) => value !== null && value !== undefined).map(([value, unit]) => `${String(value)} ${unit}`);
  return [...said, frame.text].filter(Boolean).join(", ");
}

function PasteForm({ onTaken }: { onTaken: (pasted: Schemas["Pasted"]) => void }) {
  const [text, setText] = useState("");
  const read = useMutation({ mutationFn: () => taken(client.POST("/api/pasted-codes", { body: { text } })), onSuccess: onTaken });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        read.mutate();
      }}
    >
      <Text fontSize="13px" color="mute" mb="2">
        The list as it is, one code a line. Status, freeze frame, lamp and distance are taken over where it names them.
      </Text>
      <Textarea
        aria-label="The scan tool's text"
        autoFocus
        rows={10}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && event.ctrlKey) read.mutate();
        }}
        borderColor="mute"
        fontSize="13.5px"
      />
      {read.isError && (
        <Box mt="2">
          <ErrorNote error={read.error} />
        </Box>
      )}
      <ActionButton type="submit" mt="3" disabled={!text.trim() || read.isPending}>
        Take these over
      </ActionButton>
    </form>
  );
}
