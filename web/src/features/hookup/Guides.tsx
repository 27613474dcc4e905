/** Guides with a meter: steps, readings, and what they say; kept as evidence where they are one. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, Choice, ErrorNote, PanelTitle, PlainInput, QuietButton, Select } from "../../ui";

type Page = Schemas["HookUpPage"];
type Guide = Schemas["GuideOut"];

export function Guides({ jobId, page }: { jobId: number; page: Page }) {
  const [open, setOpen] = useState<string | null>(null);
  const guide = page.guides.find((one) => one.id === open);
  return (
    <Box as="section" aria-label="With a meter" mb="8">
      <PanelTitle note="readings are kept, and counted where they are evidence">With a meter, before anything is condemned</PanelTitle>
      <Flex gap="2" wrap="wrap" mb="2">
        {page.guides.map((one) => (
          <QuietButton key={one.id} aria-pressed={one.id === open} borderColor={one.id === open ? "petrol" : "line"} onClick={() => setOpen(one.id === open ? null : one.id)}>
            {one.title}
          </QuietButton>
        ))}
      </Flex>
      {page.guided.filter((one) => page.guides.some((guide) => guide.id === one.guided.guide)).map((kept) => (
        <Text key={`${kept.guided.guide} ${kept.guided.about}`} fontSize="13.5px" mb="1" data-testid="guided">
          <b>{titleOf(page, kept)}:</b> {kept.words}
          {kept.noted && (
            <Box as="span" color="mute">
              {" "}
              Noted at Look and listen.
            </Box>
          )}
        </Text>
      ))}
      {guide && <GuideForm key={guide.id} jobId={jobId} guide={guide} page={page} />}
    </Box>
  );
}

function titleOf(page: Page, kept: Schemas["GuidedOut"]): string {
  const guide = page.guides.find((one) => one.id === kept.guided.guide);
  const about = guide?.about.find((one) => one.id === kept.guided.about)?.title;
  return [guide?.title ?? kept.guided.guide, about].filter(Boolean).join(", ");
}

function GuideForm({ jobId, guide, page }: { jobId: number; guide: Guide; page: Page }) {
  const changes = useChanges();
  const [about, setAbout] = useState(guide.about[0]?.id ?? "");
  const held = page.guided.find((one) => one.guided.guide === guide.id && one.guided.about === about);
  return (
    <Box borderWidth="1px" borderColor="line" rounded="sm" p="3" role="form" aria-label={guide.title}>
      {guide.caution && (
        <Text fontWeight="600" fontSize="13.5px" mb="1">
          {guide.caution}
        </Text>
      )}
      <Box as="ol" fontSize="13.5px" mb="2">
        {guide.steps.map((step, i) => (
          <li key={step}>
            {i + 1}. {step}
          </li>
        ))}
      </Box>
      {guide.about.length > 0 && (
        <Box mb="2" maxW="320px">
          <Select label="Of" value={about} options={guide.about.map((one) => ({ value: one.id, text: one.title }))} onPick={setAbout} />
        </Box>
      )}
      <Readings key={about} jobId={jobId} guide={guide} about={about} held={held} onKept={() => changes.looksChanged(jobId)} />
    </Box>
  );
}

type ReadingsProps = { jobId: number; guide: Guide; about: string; held: Schemas["GuidedOut"] | undefined; onKept: () => Promise<unknown> };

function Readings({ jobId, guide, about, held, onKept }: ReadingsProps) {
  const [texts, setTexts] = useState<Record<string, string>>(
    Object.fromEntries(Object.entries(held?.guided.readings ?? {}).map(([name, value]) => [name, String(value)])),
  );
  const [answers, setAnswers] = useState<Record<string, string>>(held?.guided.answers ?? {});
  const wrong = Object.values(texts).some((text) => text.trim() !== "" && numberOf(text) === null);
  const keep = useMutation({
    mutationFn: () => {
      const readings: Record<string, number> = {};
      for (const [name, text] of Object.entries(texts)) {
        const value = numberOf(text);
        if (value !== null) readings[name] = value;
      }
      return taken(
        client.PUT("/api/jobs/{job_id}/guided", {
          params: { path: { job_id: jobId } },
          body: { guide: guide.id, about, readings, answers, note: "" },
        }),
      );
    },
    onSuccess: onKept,
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <Flex gap="3" wrap="wrap" align="flex-end">
        {guide.fields.map((field) =>
          field.unit === null ? (
            <Choice
              key={field.name}
              label={field.title}
              options={field.answers.map((one) => ({ value: one.id, text: one.title }))}
              value={answers[field.name] ?? ""}
              onPick={(value) => setAnswers((all) => ({ ...all, [field.name]: value }))}
            />
          ) : (
            <Box key={field.name} asChild fontSize="13px">
              <label>
                <Text color="mute" fontSize="13px">
                  {field.title}
                </Text>
                <Flex gap="1" align="center">
                  <PlainInput
                    aria-label={`${field.title}, ${field.unit}`}
                    inputMode="decimal"
                    width={72}
                    wrong={(texts[field.name] ?? "").trim() !== "" && numberOf(texts[field.name] ?? "") === null}
                    value={texts[field.name] ?? ""}
                    onChange={(event) => setTexts((all) => ({ ...all, [field.name]: event.target.value }))}
                  />
                  {field.unit}
                </Flex>
              </label>
            </Box>
          ),
        )}
        <ActionButton type="submit" h="32px" fontSize="13px" disabled={wrong || keep.isPending}>
          Save the readings
        </ActionButton>
      </Flex>
      {held && (
        <Text mt="2" fontSize="14px" fontWeight="600" role="status" data-testid="verdict">
          {held.words}
          {held.missing.length > 0 && ` Still to read: ${held.missing.join("; ")}.`}
        </Text>
      )}
      {keep.isError && <ErrorNote error={keep.error} onClose={keep.reset} />}
    </form>
  );
}

function numberOf(text: string): number | null {
  const bare = text.trim().replace(",", ".");
  const value = Number(bare);
  return bare === "" || !Number.isFinite(value) ? null : value;
}
