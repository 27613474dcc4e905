import { Box, Table } from "@chakra-ui/react";
import type { ReactNode } from "react";

import type { Schemas } from "../../../api/client";
import { ink } from "../../../ui/theme";
import { loopPath } from "./loop";

const WIDTH = 500;
const [CAM_Y, CRANK_Y, CAM_R, CRANK_R, IDLER_R] = [30, 136, 20, 24, 14];

/** What was measured on it: each cam's offset in words, those that stand off, and the loops to which that points. */
export type Found = { words: Record<string, string>; off: readonly string[]; loops: readonly (readonly string[])[] };

/** The way from the crank to each cam: its stages, their pitch, the free links, and what wear does. */
export function DriveDrawing({ drawing, found }: { drawing: Schemas["EngineDrawing"]; found?: Found }) {
  const driven = drawing.drives.filter((drive) => drive.stages.length > 0);
  if (!driven.length) return null;
  const chains = layOut(drawing);
  const sprockets = [...new Map(chains.flatMap((chain) => chain.round).map((one) => [one.name, one])).values()];
  const firsts = new Set(driven.map((drive) => drive.stages[0]?.teeth.toFixed(1)));
  const teeth = firsts.size === 1 ? driven[0]?.stages[0]?.teeth : undefined;
  return (
    <Box data-testid="drive">
      <svg viewBox={found ? `0 -20 ${String(WIDTH)} 206` : `0 0 ${String(WIDTH)} 186`} width="100%" style={{ maxWidth: WIDTH }} role="img" aria-label="Timing drive" fontSize="12" fill={ink("ink")}>
        {sprockets.map((one) => (
          <circle key={one.name} cx={one.x} cy={one.y} r={one.r} fill={ink("panel")} stroke={ink(found?.off.includes(one.name) ? "late" : one.text ? "ink" : one.name.startsWith("crank") ? "crank" : "mute")} strokeWidth={found?.off.includes(one.name) ? 3.4 : 2} />
        ))}
        {chains.map((chain) => (
          <Loop key={chain.round.map((one) => one.name).join()} chain={chain} accused={accused(chain, found)} />
        ))}
        {sprockets.map((one) => (
          <text key={one.name} x={one.x} y={one.y} textAnchor="middle" dominantBaseline="central" fontWeight="650">
            {one.text || (one.name.startsWith("crank") && teeth !== undefined ? Number(teeth.toFixed(1)) : "")}
          </text>
        ))}
        {sprockets.map((one) => {
          const words = found?.words[one.name];
          return words === undefined ? null : (
            <text key={`${one.name} reads`} x={one.x} y={one.y - one.r - 11} textAnchor="middle" fontSize="12" fontWeight={found?.off.includes(one.name) ? 700 : 500} fill={ink(found?.off.includes(one.name) ? "late" : "ink")} stroke={ink("paper")} strokeWidth="3" paintOrder="stroke">
              {words}
            </text>
          );
        })}
        <text x={WIDTH / 2} y={CRANK_Y + CRANK_R + 18} textAnchor="middle" dominantBaseline="central" fontWeight="650">
          Crank
        </text>
      </svg>
      {!found && (
      <Table.Root size="sm" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            {["", "One pitch", "Free links", "1 % longer"].map((title) => (
              <Table.ColumnHeader key={title} py="1" color="mute" fontSize="13px" fontWeight="400" borderColor="line">
                {title}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {driven.map((drive) => (
            <Table.Row key={drive.cam} bg="transparent">
              <Cell>{drive.label}</Cell>
              <Cell>
                {drive.stages
                  .map((stage) => `${String(Number(stage.pitch_crank_deg.toFixed(1)))}°${stage.diameter_mm == null ? "" : ` (sprocket Ø ${stage.diameter_mm.toFixed(1)} mm)`}`)
                  .join(", then ")}
              </Cell>
              <Cell>{drive.free_links ?? "not known"}</Cell>
              <Cell>{drive.late_per_percent_deg === null ? "–" : `${drive.late_per_percent_deg.toFixed(1)}° late`}</Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      )}
    </Box>
  );
}

/** Whether the offsets point to that chain: its sprockets are those of a named loop. */
function accused(chain: Chain, found: Found | undefined): boolean {
  const own = chain.round.map((one) => (one.name.startsWith("crank") ? "crank" : one.name));
  return Boolean(found?.loops.some((loop) => loop.length === own.length && loop.every((name) => own.includes(name))));
}

function Cell({ children }: { children: ReactNode }) {
  return (
    <Table.Cell py="1" fontSize="13px" borderColor="line">
      {children}
    </Table.Cell>
  );
}

type Round = { name: string; text: string; x: number; y: number; r: number };
type Chain = { stage: number; round: Round[] };

/** Where every sprocket of the drawing stands: cams above in the order of the profile, idlers between, the crank's own
 * below. Each chain has its sprocket on the crank beside the next one's, so that no run crosses another. */
function layOut(drawing: Schemas["EngineDrawing"]): Chain[] {
  const cams = drawing.drives.filter((drive) => drive.stages.length > 0);
  const step = WIDTH / Math.max(1, cams.length);
  const camAt = new Map(cams.map((drive, i): [string, Round] => [drive.cam, { name: drive.cam, text: drive.cam, x: step * (i + 0.5), y: CAM_Y, r: CAM_R }]));
  const fromCrank = drawing.loops.filter((loop) => loop.around.includes("crank"));
  const crankAt = (loop: Schemas["DriveLoop"]): Round => {
    const k = fromCrank.indexOf(loop) - (fromCrank.length - 1) / 2;
    return { name: `crank ${String(k)}`, text: "", x: WIDTH / 2 + 2 * (CRANK_R + 7) * k, y: CRANK_Y, r: CRANK_R };
  };
  const idlerAt = (idler: string): Round => {
    const driven = drawing.loops.find((loop) => loop.stage === 1 && loop.around.includes(idler))?.around.flatMap((name) => camAt.get(name) ?? []) ?? [];
    const middle = driven.reduce((sum, one) => sum + one.x, 0) / Math.max(1, driven.length);
    return { name: idler, text: "", x: 0.6 * middle + 0.4 * (WIDTH / 2), y: (CAM_Y + CRANK_Y) / 2, r: IDLER_R };
  };
  return drawing.loops.map((loop) => ({
    stage: loop.stage,
    round: loop.around.flatMap((name) => (name === "crank" ? [crankAt(loop)] : name.startsWith("idler") ? [idlerAt(name)] : (camAt.get(name) ?? []))),
  }));
}

/** One chain or belt; the second one on an idler runs on a smaller sprocket behind, so that the two are told apart. */
function Loop({ chain, accused: bad }: { chain: Chain; accused: boolean }) {
  const round = chain.round.map((one) => ({ ...one, r: one.name.startsWith("idler") && chain.stage === 1 ? one.r - 5 : one.r + 4 }));
  return <path d={loopPath(round)} fill="none" stroke={ink(bad ? "late" : "mute")} strokeWidth={bad ? 4 : 2} strokeDasharray={bad ? "9 2.5" : "5 2.5"} data-testid="loop" data-accused={bad} />;
}
