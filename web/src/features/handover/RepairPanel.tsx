/** The repair: what was found on opening, what was replaced, and the same captures again. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { handOverWordsQuery } from "../../api/closing-queries";
import { analysisQuery } from "../../api/queries";
import { type Told, useTold } from "../../api/told";
import { ActionButton, changeWords, Choice, ErrorNote, Labelled, PanelTitle, PlainInput, QuietButton, QuietTable, Select } from "../../ui";
import { dayOf, type Found, fromYesNo, momentOf, type Repair, SYMPTOM_NOW, YES_NO, yesNo } from "./words";

type Props = { job: Schemas["JobSummary"]; told: Told; doc: Schemas["HandOver"] };

export function RepairPanel({ job, told, doc }: Props) {
  const { keep } = useTold(job.id);
  return (
    <>
      <RepairForm
        key={JSON.stringify(told.repair ?? null)}
        jobId={job.id}
        repair={told.repair ?? null}
        drives={told.road_tests ?? []}
        saving={keep.isPending}
        onKeep={(repair) => keep.mutate((now) => ({ ...now, repair }))}
      />
      {keep.isError && <ErrorNote error={keep.error} onClose={keep.reset} />}
      <ProofTables jobId={job.id} doc={doc} />
    </>
  );
}

const NOTHING: Repair = { symptom: "unknown", text: "" };

type FormProps = { jobId: number; repair: Repair | null; drives: string[]; saving: boolean; onKeep: (repair: Repair | null) => void };

function RepairForm({ jobId, repair, drives, saving, onKeep }: FormProps) {
  const words = useQuery(handOverWordsQuery);
  const [draft, setDraft] = useState<Repair>(repair ?? NOTHING);
  const change = (part: Partial<Repair>) => setDraft((now) => ({ ...now, ...part }));
  const same = JSON.stringify(draft) === JSON.stringify(repair ?? NOTHING);
  return (
    <Box as="section" aria-label="The repair">
      <PanelTitle note="what is recorded or looked at from then on counts as after the repair">What was found and done</PanelTitle>
      <Flex gap="4" wrap="wrap" mb="1">
        <Choice label="Covers came off" options={YES_NO} value={yesNo(draft.opened)} onPick={(value) => change({ opened: fromYesNo(value) })} />
        <Choice label="As expected" options={YES_NO} value={yesNo(draft.as_expected)} onPick={(value) => change({ as_expected: fromYesNo(value) })} />
      </Flex>
      <FoundList jobId={jobId} found={draft.found ?? []} faults={words.data?.faults ?? {}} onChange={(found, expected) => change({ found, ...(expected ? { as_expected: true, opened: true } : {}) })} />
      <Replaced replaced={draft.replaced ?? []} parts={words.data?.parts ?? {}} onChange={(replaced) => change({ replaced })} />
      <Flex gap="3" wrap="wrap" align="flex-end" mt="2">
        <Numbered label="Hours" value={draft.hours ?? null} onChange={(hours) => change({ hours })} />
        <Day label="Done on" value={draft.done_at} onChange={(done_at) => change({ done_at })} />
        <Day label="Codes cleared on" value={draft.codes_cleared_at} onChange={(codes_cleared_at) => change({ codes_cleared_at })} />
        <Numbered label="Driven since, km" value={draft.driven_km ?? null} onChange={(driven_km) => change({ driven_km })} />
        <Labelled label="Codes that came back">
            <PlainInput
              aria-label="Codes that came back"
              width={150}
              wrong={false}
              maxLength={200}
              defaultValue={(draft.returned ?? []).join(" ")}
              onBlur={(event) => change({ returned: event.target.value.toUpperCase().split(/[\s,;]+/).filter(Boolean) })}
            />
        </Labelled>
        <Choice label="Symptom" options={SYMPTOM_NOW} value={draft.symptom} onPick={(symptom) => change({ symptom })} />
      </Flex>
      {drives.length > 0 && <Drives all={drives} after={draft.road_tests ?? []} onChange={(road_tests) => change({ road_tests })} />}
      <Flex gap="2" mt="3" mb="2" wrap="wrap">
        <ActionButton onClick={() => onKeep(draft)} disabled={same || saving} data-testid="keep-repair">
          Save the repair
        </ActionButton>
        {repair && (
          <QuietButton h="40px" onClick={() => onKeep(null)}>
            No repair was made
          </QuietButton>
        )}
      </Flex>
    </Box>
  );
}

type FoundProps = { jobId: number; found: Found[]; faults: Record<string, string>; onChange: (found: Found[], expected?: boolean) => void };

function FoundList({ jobId, found, faults, onChange }: FoundProps) {
  const analysed = useQuery(analysisQuery(jobId));
  const analysis = analysed.data?.analysis;
  const verdict = analysis?.before_repair?.verdict.measured ? analysis.before_repair.verdict : analysis?.verdict;
  const leader = verdict?.measured ? verdict.faults[0] : undefined;
  const [fault, setFault] = useState("");
  const [text, setText] = useState("");
  const add = () => {
    if (!fault && !text.trim()) return;
    onChange([...found, { fault: (fault || null) as Found["fault"] & string, text: text.trim(), cams: [], cylinders: [] }]);
    setFault("");
    setText("");
  };
  return (
    <Box mb="2">
      {found.map((one, i) => (
        <Flex key={`${one.fault ?? ""} ${String(i)}`} gap="3" align="center" fontSize="13.5px" mb="1" wrap="wrap" data-testid="found">
          <Text>
            Found: <b>{[one.fault ? faults[one.fault] : "", one.text].filter(Boolean).join(": ")}</b>
            {(one.cams ?? []).length > 0 && ` (${(one.cams ?? []).join(", ")})`}
          </Text>
          <QuietButton aria-label={`Take out: ${one.text || one.fault || ""}`} onClick={() => onChange(found.filter((_, k) => k !== i))}>
            Take out
          </QuietButton>
        </Flex>
      ))}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <Flex gap="2" wrap="wrap" align="flex-end">
          {leader && found.length === 0 && (
            <QuietButton
              onClick={() => onChange([{ fault: leader.fault, text: "", cams: leader.where.cams ?? [], cylinders: leader.where.cylinders ?? [] }], true)}
              data-testid="as-expected"
            >
              As expected: {leader.title}
            </QuietButton>
          )}
          <Select label="Found" value={fault} options={[{ value: "", text: "Choose what was found" }, ...Object.entries(faults).map(([value, name]) => ({ value, text: name }))]} onPick={setFault} />
          <PlainInput aria-label="In your words" placeholder="In your words" width={300} wrong={false} maxLength={1000} value={text} onChange={(event) => setText(event.target.value)} />
          <QuietButton type="submit">Add</QuietButton>
        </Flex>
      </form>
      {verdict?.opening && (
        <Text color="mute" fontSize="13px" mt="1">
          Expected: {verdict.opening.see}
        </Text>
      )}
    </Box>
  );
}

type ReplacedPart = NonNullable<Repair["replaced"]>[number];

function Replaced({ replaced, parts, onChange }: { replaced: ReplacedPart[]; parts: Record<string, string>; onChange: (parts: ReplacedPart[]) => void }) {
  const [part, setPart] = useState("");
  const [text, setText] = useState("");
  return (
    <Box>
      {replaced.map((one, i) => (
        <Flex key={`${one.part} ${String(i)}`} gap="3" align="center" fontSize="13.5px" mb="1" wrap="wrap">
          <Text>
            Replaced: <b>{one.text || parts[one.part]}</b>
          </Text>
          <QuietButton aria-label={`Take out: ${one.text || one.part}`} onClick={() => onChange(replaced.filter((_, k) => k !== i))}>
            Take out
          </QuietButton>
        </Flex>
      ))}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!part) return;
          onChange([...replaced, { part: part as ReplacedPart["part"], text: text.trim() }]);
          setPart("");
          setText("");
        }}
      >
        <Flex gap="2" wrap="wrap" align="flex-end">
          <Select label="Replaced" value={part} options={[{ value: "", text: "Choose a part" }, ...Object.entries(parts).map(([value, name]) => ({ value, text: name }))]} onPick={setPart} />
          {part && (
            <>
              <PlainInput aria-label="Which part" placeholder="Which part" width={220} wrong={false} maxLength={200} value={text} onChange={(event) => setText(event.target.value)} />
              <QuietButton type="submit">Add</QuietButton>
            </>
          )}
        </Flex>
      </form>
    </Box>
  );
}

/** A number that may be left open. */
function Numbered({ label, value, onChange }: { label: string; value: number | null; onChange: (value: number | null) => void }) {
  const [text, setText] = useState(value === null ? "" : String(value));
  const number = Number(text.trim().replace(",", "."));
  const wrong = text.trim() !== "" && !(Number.isFinite(number) && number >= 0);
  return (
    <Labelled label={label}>
        <PlainInput
          inputMode="decimal"
          aria-label={label}
          width={90}
          wrong={wrong}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={() => !wrong && onChange(text.trim() === "" ? null : number)}
        />
    </Labelled>
  );
}

function Day({ label, value, onChange }: { label: string; value: string | null | undefined; onChange: (moment: string | null) => void }) {
  return (
    <Labelled label={label}>
        <PlainInput type="date" aria-label={label} width={140} wrong={false} value={dayOf(value)} onChange={(event) => onChange(momentOf(event.target.value))} />
    </Labelled>
  );
}

function Drives({ all, after, onChange }: { all: string[]; after: string[]; onChange: (names: string[]) => void }) {
  return (
    <Flex gap="2" wrap="wrap" align="center" mt="2" fontSize="13px">
      <Text color="mute">Drives after the repair</Text>
      {all.map((name) => (
        <label key={name}>
          <input type="checkbox" checked={after.includes(name)} onChange={(event) => onChange(event.target.checked ? [...after, name] : after.filter((one) => one !== name))} /> {name}
        </label>
      ))}
    </Flex>
  );
}

/** What changed between the captures of before and after, and the call as it is now. */
function ProofTables({ jobId, doc }: { jobId: number; doc: Schemas["HandOver"] }) {
  const proof = doc.proof;
  if (!proof || (!proof.now && proof.pairs.length === 0))
    return (
      <Text color="mute" fontSize="13.5px" mt="2">
        Nothing is recorded from after a repair yet. Save the repair first; then{" "}
        <Link to={`/jobs/${String(jobId)}/captures`} style={{ textDecoration: "underline" }}>
          record the same captures again
        </Link>
        .
      </Text>
    );
  return (
    <Box as="section" aria-label="Proof" data-testid="proof">
      <PanelTitle note="captures of before and after never join in one call">Measured again</PanelTitle>
      {proof.now && (
        <Text fontSize="20px" fontWeight="680" mb="1">
          {proof.now}
        </Text>
      )}
      {proof.wrong.length > 0 && (
        <Text borderLeftWidth="4px" borderColor="late" pl="3" mb="2" data-testid="wrong-call">
          {proof.wrong.join(" ")}
        </Text>
      )}
      {proof.pairs.map((pair) => (
        <Box key={pair.after} mb="3">
          <Text fontSize="13.5px" fontWeight="600">
            {pair.before.replace(".capture.json", "")} and {pair.after.replace(".capture.json", "")}
            {!pair.alike && ", recorded in different states"}
          </Text>
          <QuietTable label={`Before and after: ${pair.after}`} heads={["", "Before", "After", "Changed by"]}>
            {pair.changes.map((row) => (
              <Table.Row key={row.what}>
                <Table.Cell fontWeight="600">{row.what}</Table.Cell>
                <Table.Cell>{row.before}</Table.Cell>
                <Table.Cell>{row.after}</Table.Cell>
                <Table.Cell fontWeight={row.real ? "650" : "400"}>{changeWords(row)}</Table.Cell>
              </Table.Row>
            ))}
          </QuietTable>
        </Box>
      ))}
      <Text color="mute" fontSize="13px">
        Both on one picture: on the document's page.
      </Text>
    </Box>
  );
}
