/** Cylinder: where the piston really is and when the valves really move, from the pressure in a cylinder. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { cylinderQuery, stripQuery } from "../../api/queries";
import { Choice, EmptyNote, ErrorNote, nextPressureUnit, PRESSURE_UNITS, type PressureUnit, pressureWithHalf, pressureWords, QuietButton, Sentence, useKeys, usePressureUnit, Waiting } from "../../ui";
import { WhyMark } from "../why";
import { PickedCapture } from "../captures";
import { AllCylinders } from "./AllCylinders";
import { CornerLoupe } from "./CornerLoupe";
import { CornerTable } from "./CornerTable";
import { CylinderStrip } from "./CylinderStrip";
import { type Draft, draftOfMark, nameOf } from "./draft";
import { FittingCautions } from "./FittingCautions";
import { HandMarkBar, useHandMarks } from "./HandMarks";
import { SweepPlot } from "./SweepPlot";
import { TorquePlot } from "./TorquePlot";
import { VolumePlot } from "./VolumePlot";

export function CylinderStation({ jobId }: { jobId: number }) {
  const empty = (
    <EmptyNote title="No pressure has been recorded yet">
      A transducer in place of a plug shows where the piston really is and when the valves really move. Record crank, cams
      and that cylinder while cranking, then add the capture at station <Link to={`/jobs/${String(jobId)}/captures`}>4 Captures</Link>.
      <FittingCautions />
    </EmptyNote>
  );
  return (
    <PickedCapture jobId={jobId} empty={empty} prefers={holdsPressure}>
      {(capture, choice) => (
        <Box key={capture.id}>
          <OfCapture jobId={jobId} capture={capture} choice={choice} empty={empty} />
        </Box>
      )}
    </PickedCapture>
  );
}

function holdsPressure(capture: Schemas["ImportedCapture"]): boolean {
  return capture.felt.length > 0;
}

type Props = { jobId: number; capture: Schemas["ImportedCapture"]; choice: ReactNode; empty: ReactNode };

function OfCapture({ jobId, capture, choice, empty }: Props) {
  const picture = useQuery(cylinderQuery(capture.id));
  const strip = useQuery(stripQuery(capture.id));
  if (picture.isPending || strip.isPending) return <Waiting>Measuring</Waiting>;
  if (picture.isError) return <ErrorNote error={picture.error} onRetry={() => void picture.refetch()} />;
  if (strip.isError) return <ErrorNote error={strip.error} onRetry={() => void strip.refetch()} />;
  if (!picture.data)
    return (
      <>
        {empty}
        <Flex mt="3">{choice}</Flex>
      </>
    );
  return <Felt jobId={jobId} captureId={capture.id} picture={picture.data} strip={strip.data} choice={choice} />;
}

type FeltProps = { jobId: number; captureId: number; picture: Schemas["CylinderPicture"]; strip: Schemas["TurnStrip"]; choice: ReactNode };

function Felt(props: FeltProps) {
  const [at, setAt] = useState(0);
  const one = props.picture.felt[Math.min(at, props.picture.felt.length - 1)];
  return one ? <OneFelt key={`${String(one.cylinder)} ${one.segment}`} {...props} at={at} one={one} onPick={setAt} /> : null;
}

type OneProps = FeltProps & { at: number; one: Schemas["FeltView"]; onPick: (at: number) => void };

function OneFelt({ jobId, captureId, picture, strip, choice, at, one, onPick }: OneProps) {
  const [cycle, setCycle] = useState<number | null>(null);
  const [log, setLog] = useState(true);
  const [large, setLarge] = useState(false);
  const [unit, setUnit] = usePressureUnit();
  const marks = useHandMarks({ jobId, captureId, one, handU95Deg: picture.hand_u95_deg });
  const stepCylinder = (by: number) => onPick((at + by + picture.felt.length) % picture.felt.length);
  const count = one.cycles;
  const step = (by: number) => setCycle((now) => (now === null ? (by > 0 ? 0 : count - 1) : Math.min(count - 1, Math.max(0, now + by))));
  useKeys({
    ArrowUp: () => stepCylinder(-1),
    ArrowDown: () => stepCylinder(1),
    ArrowLeft: () => step(-1),
    ArrowRight: () => step(1),
    "0": () => setCycle(null),
    v: () => setLog((on) => !on),
    p: () => setUnit(nextPressureUnit(unit)),
    l: () => setLarge((on) => !on),
    h: marks.possible ? marks.toggle : () => undefined,
  });
  const { draft } = marks;
  const shown = one.corners.map(draftOfMark);
  const isDraft = (corner: Draft) => draft !== null && corner.valve === draft.valve && corner.what === draft.what;
  const loupes = draft === null ? shown : [draft, ...shown.filter((corner) => !isDraft(corner))];
  return (
    <>
      <Sentence finding={one.finding} />
      <Flex gap="4" wrap="wrap" align="center" mb="2.5">
        <Cylinders picture={picture} at={at} onPick={onPick} />
        {marks.possible && (
          <Choice
            label="Corners"
            options={[{ value: "found", text: "Found" }, { value: "hand", text: "By hand H" }]}
            value={draft ? "hand" : "found"}
            onPick={(value) => (value === "hand" ? marks.next() : marks.leave())}
          />
        )}
        <Choice
          label="Volume"
          options={[{ value: "log", text: "Log" }, { value: "plain", text: "Plain" }]}
          value={log ? "log" : "plain"}
          onPick={(value) => setLog(value === "log")}
        />
        <Choice label="In" options={PRESSURE_UNITS} value={unit} onPick={setUnit} />
        <CycleStep cycle={cycle} count={count} onStep={step} onAll={() => setCycle(null)} />
      </Flex>
      {draft && <HandMarkBar marks={marks} />}
      <CylinderStrip one={one} picture={picture} strip={strip} cycle={cycle} unit={unit} draft={draft} />
      <Figures captureId={captureId} one={one} unit={unit} />
      <CornerTable captureId={captureId} cylinder={one.cylinder} corners={one.corners} />
      <Flex gap="5" wrap="wrap" mt="4" align="flex-start">
        {loupes.map((corner) => (
          <CornerLoupe
            key={nameOf(corner)}
            corner={corner}
            one={one}
            cycle={cycle}
            unit={unit}
            large={large}
            marking={isDraft(corner)}
            onTap={(angle) => (draft === null ? setLarge((on) => !on) : isDraft(corner) ? marks.place(angle) : marks.pick(corner.valve, corner.what))}
          />
        ))}
        {one.sweep.length > 0 && <SweepPlot lines={one.sweep} />}
        {picture.torque && <TorquePlot torque={picture.torque} />}
        {one.volume && <VolumePlot volume={one.volume} log={log} unit={unit} />}
        <AllCylinders picture={picture} picked={one.cylinder} unit={unit} />
      </Flex>
      <FittingCautions folded />
      <Flex mt="3">{choice}</Flex>
    </>
  );
}

/** All cylinders in firing order; those that were not felt are dashed. */
function Cylinders({ picture, at, onPick }: { picture: Schemas["CylinderPicture"]; at: number; onPick: (i: number) => void }) {
  const running = new Set(picture.felt.map((f) => f.segment)).size > 1;
  return (
    <Flex role="group" aria-label="Cylinder" align="center" gap="1.5">
      <Text color="mute" fontSize="13px" mr="0.5">
        Cylinder
      </Text>
      {picture.firing_order.flatMap((cylinder) => {
        const own = picture.felt.map((f, i) => ({ f, i })).filter(({ f }) => f.cylinder === cylinder);
        if (!own.length)
          return [
            <Box key={cylinder} as="span" minW="32px" h="32px" px="2" borderWidth="1px" borderStyle="dashed" borderColor="mute" borderRadius="sm" textAlign="center" lineHeight="30px" color="mute" title="Not felt in this capture">
              {cylinder}
            </Box>,
          ];
        return own.map(({ f, i }) => (
          <QuietButton key={`${String(cylinder)} ${f.segment}`} aria-pressed={i === at} onClick={() => onPick(i)} {...(i === at ? { bg: "petrol", color: "onPetrol", borderColor: "petrol" } : {})}>
            {cylinder}
            {running ? ` ${f.segment}` : ""}
          </QuietButton>
        ));
      })}
    </Flex>
  );
}

function CycleStep({ cycle, count, onStep, onAll }: { cycle: number | null; count: number; onStep: (by: number) => void; onAll: () => void }) {
  if (count < 2) return null;
  return (
    <Flex role="group" aria-label="Cycle" align="center" gap="1.5">
      <QuietButton onClick={() => onStep(-1)} aria-label="Previous cycle">
        ←
      </QuietButton>
      <Text fontSize="13px" minW="92px" textAlign="center" aria-live="polite" data-testid="cycle">
        {cycle === null ? `mean of ${String(count)}` : `cycle ${String(cycle + 1)} of ${String(count)}`}
      </Text>
      <QuietButton onClick={() => onStep(1)} aria-label="Next cycle">
        →
      </QuietButton>
      {cycle !== null && (
        <QuietButton onClick={onAll} hint="0">
          All
        </QuietButton>
      )}
    </Flex>
  );
}

const WHAT: Record<string, string> = {
  expected: "Of a sound cylinder whose charge is trapped where this one's is",
  "before TDC by": "Loss angle: heat and leak turn the peak back",
  leak: "As an opening: what rings and valves together let past",
  "its pulses up to": "How high the other cylinders lift the exhaust stroke: a blocked exhaust shows here first",
  "squeezed between the valves": "Exhaust closes before the intake opens: the rest is squeezed about the TDC between the strokes",
  "drawn between the valves": "Intake opens late: the piston draws on a shut cylinder",
  "fall over rise": "Angles of fall and rise at half the height, about TDC: the smaller, the more is lost",
};

/** The figures that no picture says exactly, each with its half width where it has one. */
function Figures({ captureId, one, unit }: { captureId: number; one: Schemas["FeltView"]; unit: PressureUnit }) {
  const told: [string, string][] = [["Peak", pressureWithHalf(one.peak_bar, one.peak_u95_bar, unit)]];
  if (one.expected_bar !== null) told.push(["expected", pressureWords(one.expected_bar, unit)]);
  if (one.peak_deg !== null) told.push(["before TDC by", `${(-one.peak_deg).toFixed(1)}°`]);
  if (one.symmetry !== null) told.push(["fall over rise", one.symmetry.toFixed(2)]);
  if (one.leak_mm2 !== null) told.push(["leak", `${one.leak_mm2.toFixed(1)} mm²`]);
  if (one.exhaust_bar !== null) told.push(["exhaust stroke", pressureWords(one.exhaust_bar, unit)]);
  if (one.exhaust_top_bar !== null) told.push(["its pulses up to", pressureWords(one.exhaust_top_bar, unit)]);
  if (one.intake_bar !== null) told.push(["intake stroke", pressureWords(one.intake_bar, unit)]);
  if (one.squeezed_bar !== null) told.push(["squeezed between the valves", pressureWords(one.squeezed_bar, unit)]);
  if (one.drawn_bar !== null) told.push(["drawn between the valves", pressureWords(one.drawn_bar, unit)]);
  return (
    <Flex columnGap="4" rowGap="0" wrap="wrap" mt="1" fontSize="13.5px" data-testid="figures">
      {told.map(([name, value]) => (
        <Text key={name} title={WHAT[name] ?? ""}>
          <Text as="span" color="mute">
            {name}{" "}
          </Text>
          {value}
          {name === "Peak" && <WhyMark id={`${String(captureId)}/peak/${String(one.cylinder)}`} about={`Cylinder ${String(one.cylinder)}, peak pressure`} />}
        </Text>
      ))}
    </Flex>
  );
}
