/** Seal: how well each cylinder compresses while cranking: the count, a bar each, the signals unrolled, what stays open. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { sealQuery } from "../../api/queries";
import { EmptyNote, ErrorNote, Waiting } from "../../ui";
import { WhyMark } from "../why";
import { PickedCapture } from "../captures";
import { RoadTests } from "../road";
import { BlindSpots } from "./BlindSpots";
import { Breathing } from "./Breathing";
import { CylinderBars } from "./CylinderBars";
import { EngineSeal } from "./EngineSeal";
import { FiringOrder } from "./FiringOrder";
import { SealControls } from "./SealControls";
import { Unrolled } from "./Unrolled";

export function SealStation({ jobId }: { jobId: number }) {
  const empty = (
    <EmptyNote title="Nothing to judge the seal by yet">
      Record crank, a cam and the starter current while cranking with fuel disabled, then add the capture at station{" "}
      <Link to={`/jobs/${String(jobId)}/captures`}>4 Captures</Link>. Keep clear of belts and fans; crank in bursts of ten
      seconds or less.
    </EmptyNote>
  );
  return (
    <>
      <PickedCapture jobId={jobId} empty={empty}>
        {(capture, choice) => (
          <Box key={capture.id}>
            <SealOfCapture jobId={jobId} capture={capture} />
            <Flex mt="3">{choice}</Flex>
          </Box>
        )}
      </PickedCapture>
      <RoadTests jobId={jobId} />
    </>
  );
}

function SealOfCapture({ jobId, capture }: { jobId: number; capture: Schemas["ImportedCapture"] }) {
  const seal = useQuery(sealQuery(capture.id));
  if (seal.isPending) return <Waiting>Measuring</Waiting>;
  if (seal.isError) return <ErrorNote error={seal.error} onRetry={() => void seal.refetch()} />;
  if (!seal.data)
    return (
      <>
        <Headline text="Nothing is known about sealing" />
        <EmptyNote title="This capture shows no compressions">
          It takes at least two settled cycles of cranking on one crank clock whose index is known. A clamp on a battery
          cable, the battery&apos;s voltage or a fine crank wheel then show every cylinder.
        </EmptyNote>
      </>
    );
  return (
    <>
      <Seal captureId={capture.id} view={seal.data.seal} />
      <SealControls jobId={jobId} capture={capture} view={seal.data.seal} />
      <FiringOrder jobId={jobId} />
      <Breathing captureId={capture.id} view={seal.data.seal} breathing={seal.data.breathing} />
    </>
  );
}

function Overall({ captureId, overall }: { captureId: number; overall: Schemas["OverallCompressionResult"] }) {
  return (
    <Text mt="2" maxW="220px" fontSize="13.5px" data-testid="overall">
      All together{" "}
      <Box as="span" fontWeight="720" fontSize="18px" whiteSpace="nowrap">
        {Math.round(100 * overall.relative)} ± {Math.round(100 * overall.u95)} %
      </Box>{" "}
      of {overall.references === 1 ? "one known good capture" : `${String(overall.references)} known good captures`}
      <WhyMark id={`${String(captureId)}/overall`} about="All cylinders together" />
    </Text>
  );
}

function Headline({ text }: { text: string }) {
  return (
    <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" letterSpacing="-0.01em" data-testid="headline">
      {text}
    </Text>
  );
}

/** The largest words: the worst cylinder or bank where one is low, and how many are sound. */
function Largest({ view }: { view: Schemas["CompressionView"] }) {
  const sound = `${view.sound === null ? "?" : String(view.sound)} of ${String(view.expected)}`;
  if (view.worst_where === null || view.worst_size === null)
    return (
      <>
        <Text fontSize="54px" fontWeight="720" lineHeight="1">
          {sound}
        </Text>
        <Text color="mute">{view.sound === null ? "nothing counts the humps" : "sound, per 720°"}</Text>
      </>
    );
  return (
    <>
      <Text fontSize="20px" fontWeight="680" color="late" lineHeight="1.1" maxW="220px">
        {view.worst_where}
      </Text>
      <Text fontSize="54px" fontWeight="720" lineHeight="1.05" color="late">
        {view.worst_size}
      </Text>
      <Text color="mute">of the healthy ones; {sound} sound</Text>
    </>
  );
}

function Seal({ captureId, view }: { captureId: number; view: Schemas["CompressionView"] }) {
  return (
    <>
      <Headline text={view.finding.text} />
      <Text color="mute" mb="3" title="The half width within which such a measurement lies 95 times in 100">
        {view.finding.detail}
      </Text>
      <Flex gap="6" wrap="wrap" align="flex-start">
        <Box data-testid="count" flex="none">
          <Largest view={view} />
          {view.overall && <Overall captureId={captureId} overall={view.overall} />}
        </Box>
        <Box flex="1" minW="280px">
          <CylinderBars view={view} />
          <Flex gap="3" wrap="wrap" align="center" fontSize="13px" mt="1">
            <Text color="mute">Why</Text>
            {view.bars
              .filter((bar) => bar.relative !== null)
              .map((bar) => (
                <Text key={bar.cylinder}>
                  {view.named ? bar.cylinder : "–"}
                  <WhyMark id={`${String(captureId)}/seal/${String(bar.cylinder)}`} about={`Cylinder ${String(bar.cylinder)}, compression`} />
                </Text>
              ))}
          </Flex>
        </Box>
        <EngineSeal view={view} />
      </Flex>
      <Unrolled view={view} />
      {view.sparks.length > 0 && (
        <Text fontSize="13.5px" mt="1" data-testid="spark-words">
          {view.sparks.map((spark) => (
            <Text as="span" key={spark.cylinder}>
              {spark.words}
              <WhyMark id={`${String(captureId)}/spark/${String(spark.cylinder)}`} about={`Spark, cylinder ${String(spark.cylinder)}`} />{" "}
            </Text>
          ))}
          <Text as="span" color="mute">
            The control unit times from the crank wheel: a right spark does not clear the cams.
          </Text>
        </Text>
      )}
      <BlindSpots view={view} />
    </>
  );
}
