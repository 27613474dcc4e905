/** Phase: what the cam signals read against the crank, in words, as a picture, and as a table. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { analysisQuery, stripQuery } from "../../api/queries";
import { Choice, EmptyNote, ErrorNote, QuietButton, useKeys, Waiting } from "../../ui";
import { PickedCapture } from "../captures";
import { SignalStrip } from "../signals";
import { BesidePanels } from "./BesidePanels";
import { CamTable } from "./CamTable";
import { FilterPanel } from "./FilterPanel";
import { FindingHeadline } from "./FindingHeadline";
import { HealthLines } from "./HealthLines";
import { Irregularities } from "./Irregularities";
import { lookSpan, oddWords } from "./irregularity-words";
import { KeptNote, LearntPanel } from "./LearntPanel";
import { TrendPlot } from "./TrendPlot";
import { TurnStrip } from "./TurnStrip";
import { usePhaseView } from "./view";
import { WheelNote } from "./WheelNote";

export function PhaseStation({ jobId }: { jobId: number }) {
  const empty = (
    <EmptyNote title="Nothing to measure yet">
      Add a capture with crank and cam signals first: station <Link to={`/jobs/${jobId}/captures`}>4 Captures</Link>.
    </EmptyNote>
  );
  return (
    <PickedCapture jobId={jobId} empty={empty}>
      {(capture, choice) => <PhaseOfCapture key={capture.id} jobId={jobId} capture={capture} choice={choice} />}
    </PickedCapture>
  );
}

type Props = { jobId: number; capture: Schemas["ImportedCapture"]; choice: ReactNode };

function PhaseOfCapture({ jobId, capture, choice }: Props) {
  const analysis = useQuery(analysisQuery(jobId));
  const strip = useQuery(stripQuery(capture.id));
  const view = usePhaseView(strip.data);
  const [raw, setRaw] = useState(false);
  const [kept, setKept] = useState<Schemas["EngineSummary"] | null>(null);
  const look = (timeS: number, toS: number, spanS: number) => {
    view.setFocus({ timeS, toS, spanS, nth: (view.focus?.nth ?? 0) + 1 });
    view.setRulers([timeS, toS > timeS ? toS : timeS + spanS / 4]);
    setRaw(true);
  };
  const at = analysis.data?.capture_ids.indexOf(capture.id) ?? -1;
  const result = analysis.data?.analysis.captures[at];
  const odd = result?.irregularities ?? [];
  const stepOdd = (by: number) => {
    if (!odd.length) return;
    const at = odd.findIndex((one) => one.time_s === view.focus?.timeS);
    const next = odd[at < 0 ? (by > 0 ? 0 : odd.length - 1) : (at + by + odd.length) % odd.length];
    if (next) look(next.time_s, next.to_s, lookSpan(next));
  };
  useKeys({ r: () => setRaw((on) => !on), i: () => stepOdd(1), "shift+i": () => stepOdd(-1) });
  const noTeeth = strip.data?.ruler?.pitch_deg == null;
  return (
    <Box>
      <FindingHeadline result={result} failed={analysis.error} />
      <Flex gap="4" wrap="wrap" mb="2.5" align="center">
        {choice}
        <Choice
          label="Read in"
          options={[
            { value: "degrees", text: "Degrees" },
            { value: "forwards", text: "Teeth after gap", disabled: noTeeth, title: "Wheel teeth from tooth 1 on, missing ones counted" },
            { value: "backwards", text: "Teeth before gap", disabled: noTeeth, title: "Wheel teeth until tooth 1 comes again, missing ones counted" },
          ]}
          value={view.unit}
          onPick={view.setUnit}
        />
        <CycleStepper view={view} count={strip.data?.cycles.length ?? 0} />
      </Flex>
      {strip.isPending && <Waiting>Unrolling the capture</Waiting>}
      {strip.isError && <ErrorNote error={strip.error} onRetry={() => void strip.refetch()} />}
      {strip.data && <TurnStrip strip={strip.data} view={view} />}
      {strip.data && result && <HealthLines strip={strip.data} health={result.health ?? []} onLook={look} />}
      <WheelNote captureId={capture.id} result={result} strip={strip.data} />
      <Irregularities odd={odd} strip={strip.data} focus={view.focus} onLook={look} />
      <Problems result={result} />
      {result?.learnt && <LearntPanel captureId={capture.id} learnt={result.learnt} onKept={setKept} />}
      {kept && <KeptNote engine={kept} onClose={() => setKept(null)} />}
      {strip.data && strip.data.lanes.length > 0 && (
        <CamTable captureId={capture.id} lanes={strip.data.lanes} pitchDeg={strip.data.ruler?.pitch_deg ?? null} />
      )}
      {result && strip.data && (
        <BesidePanels jobId={jobId} capture={capture} result={result} lanes={strip.data.lanes} analysis={analysis.data?.analysis ?? null} />
      )}
      {result && <TrendPlot cams={result.cams ?? []} lanes={strip.data?.lanes ?? []} />}
      <Flex mt="4" mb="2">
        <QuietButton onClick={() => setRaw((on) => !on)} aria-expanded={raw} hint="R">
          {raw ? "Hide the raw signals" : "Raw signals and rulers"}
        </QuietButton>
      </Flex>
      {raw && strip.data && (
        <>
          <FilterPanel jobId={jobId} capture={capture} effects={result?.filters ?? []} />
          <SignalStrip
            key={view.focus?.nth ?? 0}
            opened
            captureId={capture.id}
            name={capture.name}
            whole={{ from: strip.data.start_s, to: strip.data.start_s + strip.data.duration_s }}
            cycles={strip.data.cycles}
            cycle={view.cycle}
            focus={view.focus}
            rulers={view.rulers}
            onRulers={view.setRulers}
            places={odd.map((one) => ({ fromS: one.time_s, toS: one.to_s, words: `${one.signal}: ${oddWords(one)}` }))}
          />
        </>
      )}
    </Box>
  );
}

function CycleStepper({ view, count }: { view: ReturnType<typeof usePhaseView>; count: number }) {
  if (!count) return null;
  return (
    <Flex role="group" aria-label="Cycle" align="center" gap="1.5">
      <QuietButton onClick={() => view.step(-1)} aria-label="Previous cycle">
        ←
      </QuietButton>
      <Text fontSize="13px" minW="92px" textAlign="center" aria-live="polite" data-testid="cycle">
        {view.cycle === null ? `all ${count} cycles` : `cycle ${view.cycle} of ${count}`}
      </Text>
      <QuietButton onClick={() => view.step(1)} aria-label="Next cycle">
        →
      </QuietButton>
      {view.cycle !== null && (
        <QuietButton onClick={() => view.setCycle(null)} hint="0">
          All
        </QuietButton>
      )}
    </Flex>
  );
}

/** What could not be measured or must be known about it; said where it matters. */
function Problems({ result }: { result: Schemas["CaptureResult"] | undefined }) {
  if (!result?.problems?.length) return null;
  return (
    <Box as="ul" listStyleType="none" mt="3">
      {result.problems.map((problem, i) => (
        <Box as="li" key={i} borderLeftWidth="3px" borderColor="mute" pl="3" mb="1.5" fontSize="13.5px" maxW="720px">
          {problem.text}
        </Box>
      ))}
    </Box>
  );
}
