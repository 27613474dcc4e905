/** The measurement so far in large figures: every cam, the speed, the teeth of the last turn. */
import { Box, Grid, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { signed } from "./words";

type View = Schemas["RecordingView"];

export function Tiles({ view }: { view: View }) {
  const live = view.live;
  const cams = live?.cams.slice(0, 4) ?? [];
  return (
    <Grid templateColumns={{ base: "1fr 1fr", lg: "repeat(auto-fit, minmax(176px, 1fr))" }} gap="2" mb="3" data-testid="tiles">
      {cams.map((cam) => (
        <Tile
          key={cam.cam}
          name={cam.name}
          colour={cam.shaft === "exhaust" ? "exhaust" : "intake"}
          figure={signed(cam.offset_deg)}
          striking={cam.offset_deg !== null && cam.total_u95_deg !== null && Math.abs(cam.offset_deg) > cam.total_u95_deg}
          note={cam.total_u95_deg === null ? "not placed yet" : `± ${cam.total_u95_deg.toFixed(1)}°, ${String(cam.cycles)} cycles`}
        />
      ))}
      <Tile
        name="Crank"
        colour="crank"
        figure={live?.rpm === null || live?.rpm === undefined ? "–" : `${live.rpm.toFixed(0)} rpm`}
        note={live?.rpm_low === null || live?.rpm_low === undefined ? (live?.why ?? "") : `${live.rpm_low.toFixed(0)} to ${(live.rpm_high ?? 0).toFixed(0)} in a turn`}
      />
      <Tile
        name="Teeth in the last turn"
        colour="crank"
        figure={live?.teeth === null || live?.teeth === undefined ? "–" : `${String(live.teeth)} of ${String(live.expected_teeth ?? "?")}`}
        note={cams.map((cam) => (cam.edges_per_cycle === null ? "" : `${cam.name.toLowerCase()} ${cam.edges_per_cycle.toFixed(Number.isInteger(cam.edges_per_cycle) ? 0 : 1)} of ${String(cam.expected_edges)}`)).filter(Boolean).join(", ")}
      />
      {live?.sparks.map((spark) => (
        <Tile key={spark.cylinder} name={`Spark, cylinder ${String(spark.cylinder)}`} colour="coil" figure={`${Math.abs(spark.spark_deg).toFixed(1)}° ${spark.spark_deg < 0 ? "before" : "after"}`} note="its own TDC by the wheel" />
      ))}
    </Grid>
  );
}

type TileProps = { name: string; colour: string; figure: string; note: string; striking?: boolean };

function Tile({ name, colour, figure, note, striking = false }: TileProps) {
  return (
    <Box bg="panel" borderWidth="1px" borderColor="line" rounded="md" px="3" py="2" minW="0">
      <Text fontSize="13px" fontWeight="650" color={colour} truncate>
        {name}
      </Text>
      <Text fontSize="31px" fontWeight="720" lineHeight="1.15" fontVariantNumeric="tabular-nums" color={striking ? "late" : "ink"} whiteSpace="nowrap">
        {figure}
      </Text>
      <Text fontSize="13px" color="mute" truncate title={note}>
        {note}
      </Text>
    </Box>
  );
}
