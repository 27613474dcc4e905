/** One kind of engine: its picture, its figures, who lies apart, what it teaches. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { Choice, offsetWords, PanelTitle, percent, plusMinus, QuietButton, QuietTable, useKeys, withHalf } from "../../ui";
import { CarsPicture, type Along } from "./CarsPicture";
import { savePicture } from "./savePicture";
import { Taught } from "./Taught";

type KindView = Schemas["KindView"];
type Interval = Schemas["Interval"];

const ALONG = [
  { value: "distance", text: "Distance" },
  { value: "age", text: "Age" },
] as const;

export function Kind({ kind }: { kind: KindView }) {
  const [camId, setCam] = useState(kind.cams[0]?.cam ?? "");
  const [along, setAlong] = useState<Along>("distance");
  const picture = useRef<HTMLDivElement>(null);
  const at = kind.cams.findIndex((one) => one.cam === camId);
  const cam = kind.cams[at];
  const step = (by: number) => setCam(kind.cams[Math.min(Math.max(at + by, 0), kind.cams.length - 1)]?.cam ?? camId);
  useKeys({ ArrowLeft: () => step(-1), ArrowRight: () => step(1), a: () => setAlong(along === "age" ? "distance" : "age") });
  return (
    <Box minW="0" data-testid="kind">
      <Text as="h2" fontSize="22px" fontWeight="700" lineHeight="1.2">
        {kind.engine}
      </Text>
      <Text mb="3">{wearWords(kind)}</Text>
      {cam && (
        <>
          <Flex gap="4" wrap="wrap" align="center" mb="1">
            <Choice label="Cam" options={kind.cams.map((one) => ({ value: one.cam, text: one.cam }))} value={cam.cam} onPick={setCam} />
            <Choice label="Over" options={ALONG} value={along} onPick={setAlong} />
            <QuietButton onClick={() => savePicture(picture.current, `${kind.engine} ${cam.cam}`)}>Picture</QuietButton>
          </Flex>
          <Box ref={picture}>
            <CarsPicture cam={cam} along={along} engine={kind.engine} />
          </Box>
          {cam.left_out > 0 && (
            <Text color="mute" fontSize="13px">
              All that lie apart are drawn, and one in so many of the others; {cam.left_out} are left out of the picture, none of the figures.
            </Text>
          )}
        </>
      )}
      <Figures kind={kind} />
      <Apart kind={kind} />
      <Goods kind={kind} />
      <Taught kind={kind} />
    </Box>
  );
}

function wearWords(kind: KindView): string {
  if (!kind.wear_deg) return "Too few distances are known to say how it wears: tell them at each job's Complaint.";
  const turned = `${withHalf(kind.wear_deg)} in 10 000 km`;
  const chain =
    typeof kind.elongation_percent === "number" && typeof kind.elongation_u95_percent === "number"
      ? `; the chain grows ${kind.elongation_percent.toFixed(3)} ± ${kind.elongation_u95_percent.toFixed(3)} %`
      : "";
  return kind.drifts
    ? `Its furthest cam drifts: ${turned}${chain}.`
    : `No drift with distance is seen: the furthest cam moves by ${turned}, which may as well be nothing.`;
}

function spreadWords(one: Interval, unit: string, times = 1, digits = 2): string {
  return `${(one.value * times).toFixed(digits)}${unit}, between ${(one.low * times).toFixed(digits)} and ${(one.high * times).toFixed(digits)}${unit}`;
}

function Figures({ kind }: { kind: KindView }) {
  return (
    <Box as="section" aria-label="Figures of the kind" maxW="900px">
      <PanelTitle note={`${kind.engines.toFixed(0)} of ${String(kind.cars)} cars count`}>What the kind is</PanelTitle>
      <QuietTable label="What the kind is" heads={["Cam", "Edges when new, against the profile", "A new sound one reads within", "In 10 000 km"]}>
        {kind.cams.map((cam) => (
          <Table.Row key={cam.cam}>
            <Table.Cell fontWeight="600">{cam.cam}</Table.Cell>
            <Table.Cell>
              {withHalf(cam.edge_deg)}
            </Table.Cell>
            <Table.Cell>{plusMinus(cam.usual_u95_deg)}°</Table.Cell>
            <Table.Cell>{cam.wear_deg ? withHalf(cam.wear_deg) : "not known"}</Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
      <Text fontSize="13.5px" mt="1.5">
        Single cams differ by {spreadWords(kind.build_deg, "°")}; engines as a whole by {spreadWords(kind.whole_deg, "°")}
        {kind.index && `; where the crank wheel sits by ${spreadWords(kind.index.spread_deg, "°")}`}
        {kind.compression && `; sound cylinders in compression by ${spreadWords(kind.compression, " %", 100, 1)}`} (standard deviations).
      </Text>
      <Text fontSize="13.5px" mt="1" data-testid="kind-index">
        {kind.index
          ? `The index passes ${withHalf(kind.index.place_deg)} against the profile, by the pistons of ${kind.index.engines.toFixed(0)} cars. More cars do not make the doubt smaller that all of a kind share.`
          : "Nothing felt the pistons: where the index stands is not known better than the profile has it."}
      </Text>
    </Box>
  );
}

function Apart({ kind }: { kind: KindView }) {
  return (
    <Box as="section" aria-label="Cars that lie apart" maxW="1000px" data-testid="apart">
      <PanelTitle note="further than three standard deviations of a sound one from its kind">Cars that lie apart</PanelTitle>
      {kind.apart.length === 0 ? (
        <Text fontSize="13.5px">None.</Text>
      ) : (
        <QuietTable label="Cars that lie apart" heads={["Car", "Cam", "Reads", "Its kind would read", "Apart", "Called"]}>
          {kind.apart.map((one) => (
            <Table.Row key={one.unit}>
              <Table.Cell fontWeight="600">
                {typeof one.job_id === "number" ? (
                  <Box asChild color="petrol">
                    <Link to={`/jobs/${String(one.job_id)}/phase`}>{one.name}</Link>
                  </Box>
                ) : (
                  one.name
                )}
              </Table.Cell>
              <Table.Cell>{one.cam}</Table.Cell>
              <Table.Cell whiteSpace="nowrap">
                {withHalf({ value: one.offset_deg, u95: one.u95_deg })}
              </Table.Cell>
              <Table.Cell whiteSpace="nowrap">{offsetWords(one.expected_deg, 0.5)}</Table.Cell>
              <Table.Cell whiteSpace="nowrap">{Math.abs(one.apart_sds).toFixed(0)} SD</Table.Cell>
              <Table.Cell>
                {one.called ?? "not called"}
                {typeof one.probability === "number" && `, ${percent(one.probability)}`}
              </Table.Cell>
            </Table.Row>
          ))}
        </QuietTable>
      )}
    </Box>
  );
}

function Goods({ kind }: { kind: KindView }) {
  const { goods } = kind;
  const warm = Object.entries(goods.temperatures).map(([name, count]) => `${String(count)} ${name === "unknown" ? "of unknown temperature" : name}`);
  return (
    <Box as="section" aria-label="Library of known goods" maxW="900px" data-testid="goods">
      <PanelTitle>The library of known goods it would make</PanelTitle>
      <Text fontSize="13.5px">
        {goods.cars === 0
          ? `None of ${String(goods.every)} cars is likely enough a sound one.`
          : `${String(goods.cars)} of ${String(goods.every)} cars lie among the others, 9 in 10 or likelier, and nothing else is called in them (${warm.join(", ")}); ${String(goods.kept)} of them ${goods.kept === 1 ? "is" : "are"} kept as known good now.`}
      </Text>
    </Box>
  );
}
