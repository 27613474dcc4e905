/** What each channel is: proposed with its reason, to confirm or change; the engine's state asked once. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { presetsQuery, sheetQuery } from "../../api/queries";
import { ActionButton, ErrorNote, OutdatedNote, QuietButton, Select, useKeys, Waiting } from "../../ui";
import { type Rulers, SignalStrip } from "../signals";
import { ChannelCard } from "./ChannelCard";
import { GiveAway } from "./GiveAway";
import { MarkList } from "./MarkList";
import { useMarks } from "./marks";
import { OPTION_WORDS, type Setup, setupOf, STATE, type Sheet, withoutCylinder } from "./setup";

type Props = { jobId: number; captureId: number; onClose: () => void };

export function ImportSheet({ jobId, captureId, onClose }: Props) {
  const sheet = useQuery(sheetQuery(captureId));
  const presets = useQuery(presetsQuery);
  const [begun, setBegun] = useState(0);
  if (sheet.isPending || presets.isPending) return <Waiting>Looking at the signals</Waiting>;
  if (sheet.isError) return <ErrorNote error={sheet.error} onRetry={() => void sheet.refetch()} />;
  if (presets.isError) return <ErrorNote error={presets.error} onRetry={() => void presets.refetch()} />;
  return (
    <Form
      key={`${String(captureId)} ${String(begun)}`}
      jobId={jobId}
      sheet={sheet.data}
      presets={presets.data}
      onClose={onClose}
      onAnew={() => setBegun(begun + 1)}
    />
  );
}

type FormProps = { jobId: number; sheet: Sheet; presets: Schemas["ScalePreset"][]; onClose: () => void; onAnew: () => void };

function Form({ jobId, sheet, presets, onClose, onAnew }: FormProps) {
  const changes = useChanges();
  const [setup, setSetup] = useState<Setup>(() => setupOf(sheet, presets));
  const [rulers, setRulers] = useState<Rulers | null>(null);
  const [base] = useState(sheet.capture.version);
  const { capture } = sheet;
  const path = { capture_id: capture.id };
  const confirm = useMutation({
    mutationFn: (from: number) =>
      taken(client.PUT("/api/captures/{capture_id}/sheet", { params: { path, header: madeFrom(from) }, body: setup })),
    onSuccess: async () => {
      await changes.captureChanged(jobId, capture.id);
      onClose();
    },
  });
  const [asked, setAsked] = useState(false);
  const untold = withoutCylinder(setup);
  const measure = () => {
    setAsked(true);
    if (untold === null) confirm.mutate(base);
  };
  const marks = useMarks(sheet);
  const takeTheirs = async () => {
    await changes.captureChanged(jobId, capture.id);
    onAnew();
  };
  useKeys({ Enter: measure, Escape: onClose });
  const unsure = sheet.channels.filter((c) => !c.certain).length;
  return (
    <Box as="section" aria-label={`Channels of ${capture.name}`} bg="panel" borderWidth="1px" borderColor="line" rounded="md" p="4" mt="4" data-testid="sheet">
      <Flex align="baseline" gap="3" wrap="wrap">
        <Text as="h2" fontSize="20px" fontWeight="700">
          {capture.name}
        </Text>
        <Text color="mute" fontSize="13px">
          {capture.duration_s.toFixed(1)} s, {(capture.sample_rate_hz / 1000).toFixed(0)} kS/s
        </Text>
        <Box flex="1" />
        <QuietButton onClick={onClose} hint="Esc">
          Later
        </QuietButton>
        <ActionButton onClick={measure} loading={confirm.isPending} title="Key Enter">
          {capture.confirmed ? "Save the channels" : "That is right, measure it"}
        </ActionButton>
      </Flex>
      <Text mt="1" mb="3" color={unsure ? "ink" : "mute"}>
        {headline(sheet, unsure)}
      </Text>
      {confirm.isError && <OutdatedNote error={confirm.error} onMine={(version) => confirm.mutate(version)} onTheirs={() => void takeTheirs()} />}
      <Flex gap="3" rowGap="2" wrap="wrap" mb="3" role="group" aria-label="State of the engine">
        {STATE.map(({ key, label, options }) => (
          <Select
            key={key}
            label={label}
            value={setup[key] ?? ""}
            options={[...(key === "condition" ? [{ value: "", text: "not said" }] : []), ...options.map((o) => ({ value: o, text: OPTION_WORDS[o] ?? o }))]}
            onPick={(value) => setSetup({ ...setup, [key]: value === "" ? null : value })}
          />
        ))}
      </Flex>
      {sheet.channels.map((channel) => (
        <ChannelCard
          key={channel.description.column}
          channel={channel}
          sheet={sheet}
          setup={setup}
          presets={presets}
          wrong={asked && channel.description.column === untold}
          onChange={setSetup}
        />
      ))}
      {sheet.notes.length > 0 && (
        <Text color="mute" fontSize="13px" mt="3">
          How the file was read: {sheet.notes.join(" ")}
        </Text>
      )}
      <Box mt="4">
        <SignalStrip
          captureId={capture.id}
          name={capture.name}
          whole={{ from: capture.start_s, to: capture.start_s + capture.duration_s }}
          rulers={rulers}
          onRulers={setRulers}
          places={marks.all.map((m) => ({ fromS: m.t_s, toS: m.t_s, words: m.text || "mark" }))}
          onMark={marks.add}
        />
        <MarkList marks={marks.all} onName={marks.name} onTakeOut={marks.takeOut} />
        {marks.failed && <OutdatedNote error={marks.failed} onMine={marks.again} onTheirs={() => void takeTheirs()} />}
        {capture.confirmed && <GiveAway captureId={capture.id} />}
      </Box>
    </Box>
  );
}

function headline(sheet: Sheet, unsure: number): string {
  const crank = sheet.channels.some((c) => c.description.role === "crank");
  if (!crank) return "No channel looks like a crank sensor: nothing can be measured without one. Say which it is.";
  if (sheet.capture.confirmed) return "What the channels are was confirmed; change it here, and it is measured anew.";
  if (unsure === 0) return "Every channel was recognised from its signal.";
  const which = unsure === 1 ? "One channel is" : `${String(unsure)} channels are`;
  return `${which} only likely: look where the circle is hollow.`;
}
