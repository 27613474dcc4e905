import { Box, Table } from "@chakra-ui/react";
import type { ReactNode } from "react";

import type { Schemas } from "../../../api/client";
import { ink } from "../../../ui/theme";
import { loopPath } from "./loop";

const WIDTH = 500;
const [CAM_Y, CRANK_Y, CAM_R, CRANK_R, IDLER_R] = [30, 136, 20, 24, 14];

/** The way from the crank to each cam: its stages, their pitch, the free links, and what wear does. */
export function DriveDrawing({ drawing }: { drawing: Schemas["EngineDrawing"] }) {
  const driven = drawing.drives.filter((drive) => drive.stages.length > 0);
  if (!driven.length) return null;
  const places = layOut(drawing);
  const firsts = new Set(driven.map((drive) => drive.stages[0]?.teeth.toFixed(1)));
  const teeth = firsts.size === 1 ? driven[0]?.stages[0]?.teeth : undefined;
  return (
    <Box data-testid="drive">
      <svg viewBox={`0 0 ${String(WIDTH)} 168`} width="100%" style={{ maxWidth: WIDTH }} role="img" aria-label="Timing drive" fontSize="12" fill={ink("ink")}>
        {[...places.values()].map((one) => (
          <circle key={one.name} cx={one.x} cy={one.y} r={one.r} fill={ink("panel")} stroke={ink(one.name === "crank" ? "crank" : one.text ? "ink" : "mute")} strokeWidth="2" />
        ))}
        {drawing.loops.map((loop, i) => (
          <Loop key={`${String(loop.stage)} ${loop.around.join()}`} loop={loop} ring={loop.stage + drawing.loops.slice(0, i).filter((l) => l.stage === loop.stage && l.around[0] === loop.around[0]).length} places={places} />
        ))}
        {[...places.values()].map((one) => (
          <text key={one.name} x={one.x} y={one.y - (one.name === "crank" && teeth !== undefined ? 6 : 0)} textAnchor="middle" dominantBaseline="central" fontWeight="650">
            {one.text}
          </text>
        ))}
        {teeth !== undefined && (
          <text x={WIDTH / 2} y={CRANK_Y + 9} textAnchor="middle" dominantBaseline="central" fill={ink("mute")}>
            {Number(teeth.toFixed(1))}
          </text>
        )}
      </svg>
      <Table.Root size="sm" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            {["", "One pitch", "Free links", "1 % longer"].map((title) => (
              <Table.ColumnHeader key={title} py="1" color="mute" fontSize="12.5px" fontWeight="400" borderColor="line">
                {title}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {driven.map((drive) => (
            <Table.Row key={drive.cam} bg="transparent">
              <Cell>{drive.label}</Cell>
              <Cell>{drive.stages.map((stage) => `${String(Number(stage.pitch_crank_deg.toFixed(1)))}°`).join(", then ")}</Cell>
              <Cell>{drive.free_links ?? "not known"}</Cell>
              <Cell>{drive.late_per_percent_deg === null ? "–" : `${drive.late_per_percent_deg.toFixed(1)}° late`}</Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

function Cell({ children }: { children: ReactNode }) {
  return (
    <Table.Cell py="1" fontSize="13px" borderColor="line">
      {children}
    </Table.Cell>
  );
}

type Round = { name: string; text: string; x: number; y: number; r: number };

/** Where each sprocket of the drawing stands: the crank below, idlers between, cams above in the order of the profile. */
function layOut(drawing: Schemas["EngineDrawing"]): Map<string, Round> {
  const cams = drawing.drives.filter((drive) => drive.stages.length > 0);
  const step = WIDTH / Math.max(1, cams.length);
  const found = new Map<string, Round>([["crank", { name: "crank", text: "Crank", x: WIDTH / 2, y: CRANK_Y, r: CRANK_R }]]);
  cams.forEach((drive, i) => found.set(drive.cam, { name: drive.cam, text: drive.cam, x: step * (i + 0.5), y: CAM_Y, r: CAM_R }));
  for (const loop of drawing.loops) {
    const idler = loop.around.find((name) => name.startsWith("idler"));
    if (!idler || loop.stage !== 1) continue;
    const own = loop.around.map((name) => found.get(name)).filter((one): one is Round => one !== undefined);
    const x = own.reduce((sum, one) => sum + one.x, 0) / Math.max(1, own.length);
    found.set(idler, { name: idler, text: "", x: (x + WIDTH / 2) / 2, y: (CAM_Y + CRANK_Y) / 2, r: IDLER_R });
  }
  return found;
}

/** One chain or belt; a second one on the same sprocket runs on a smaller ring, so that the two are told apart. */
function Loop({ loop, ring, places }: { loop: Schemas["DriveLoop"]; ring: number; places: Map<string, Round> }) {
  const round = loop.around.flatMap((name) => {
    const place = places.get(name);
    return place ? [{ ...place, r: place.r + (name === "crank" || name.startsWith("idler") ? 4 - 6 * ring : 4) }] : [];
  });
  return <path d={loopPath(round)} fill="none" stroke={ink("mute")} strokeWidth="2" strokeDasharray="5 2.5" data-testid="loop" />;
}
