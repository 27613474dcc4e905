/** The numbers under the picture: what each cam reads against what its valves do, and what each cylinder reaches. */
import { Table, Text } from "@chakra-ui/react";

import { offsetWords, PanelTitle, pressureWords, QuietTable, usePressureUnit } from "../../../ui";
import type { BenchEngine } from "./by-hand";
import type { Picture } from "./moving";

type Props = { picture: Picture; behind: Picture | null; engine: BenchEngine };

export function Readings({ picture, behind, engine }: Props) {
  const [unit] = usePressureUnit();
  const teeth = (deg: number) => (engine.tooth_deg ? (Math.abs(deg) / engine.tooth_deg).toFixed(1) : "");
  const pitches = (deg: number) => (engine.pitch_deg ? (Math.abs(deg) / engine.pitch_deg).toFixed(2) : "");
  return (
    <>
      <PanelTitle note="what a reading of these signals gives, and what is true of the engine">Cams</PanelTitle>
      <QuietTable folds label="What each cam reads" heads={["Cam", "Its signal reads", "in teeth", "in pitches of the drive", "Its valves are"]}>
        {picture.cams.map((one) => (
          <Table.Row key={one.cam}>
            <Table.Cell>{one.title}</Table.Cell>
            <Table.Cell fontWeight="650">{offsetWords(one.signal_deg)}</Table.Cell>
            <Table.Cell>{teeth(one.signal_deg)}</Table.Cell>
            <Table.Cell>{pitches(one.signal_deg)}</Table.Cell>
            <Table.Cell>{offsetWords(one.valves_deg)}</Table.Cell>
          </Table.Row>
        ))}
      </QuietTable>
      <PanelTitle note={picture.rpm < 400 ? "while it is cranked with the pedal down" : "at idle, each firing"}>Cylinders</PanelTitle>
      <QuietTable folds label="What each cylinder reaches" heads={["Cylinder", "Reaches", "Without the fault"]}>
        {picture.peaks.map((peak) => {
          const before = behind?.peaks.find((one) => one.cylinder === peak.cylinder);
          return (
            <Table.Row key={peak.cylinder}>
              <Table.Cell>{peak.cylinder}</Table.Cell>
              <Table.Cell fontWeight="650">{pressureWords(peak.bar, unit)}</Table.Cell>
              <Table.Cell>{before ? pressureWords(before.bar, unit) : ""}</Table.Cell>
            </Table.Row>
          );
        })}
      </QuietTable>
      <Text fontSize="13px" color="mute" mt="2">
        The picture is reckoned more coarsely than a recording, so that it follows the hand; a recording of the same car is exact.
      </Text>
    </>
  );
}
