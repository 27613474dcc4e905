import { Box, Table } from "@chakra-ui/react";
import type { ReactNode } from "react";

import type { Schemas } from "../../../api/client";
import { ink } from "../../../app/theme";

type Drive = Schemas["CamDrive"];

const WIDTH = 500;
const [CAM_Y, CRANK_Y, CAM_R, CRANK_R, IDLER_R] = [30, 136, 20, 24, 14];

/** The way from the crank to each cam: its stages, their pitch, the free links, and what wear does. */
export function DriveDrawing({ drawing }: { drawing: Schemas["EngineDrawing"] }) {
  const driven = drawing.drives.filter((drive) => drive.stages.length > 0);
  if (!driven.length) return null;
  const stepX = WIDTH / driven.length;
  const firsts = new Set(driven.map((drive) => drive.stages[0]?.teeth.toFixed(1)));
  const teeth = firsts.size === 1 ? driven[0]?.stages[0]?.teeth : undefined;
  return (
    <Box data-testid="drive">
      <svg viewBox={`0 0 ${String(WIDTH)} 168`} width="100%" style={{ maxWidth: WIDTH }} role="img" aria-label="Timing drive" fontSize="12" fill={ink("ink")}>
        {driven.map((drive, i) => (
          <Way key={drive.cam} drive={drive} x={stepX * (i + 0.5)} />
        ))}
        <circle cx={WIDTH / 2} cy={CRANK_Y} r={CRANK_R} fill={ink("panel")} stroke={ink("crank")} strokeWidth="2" />
        <text x={WIDTH / 2} y={CRANK_Y - (teeth === undefined ? 0 : 6)} textAnchor="middle" dominantBaseline="central" fontWeight="650">
          Crank
        </text>
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

function Way({ drive, x }: { drive: Drive; x: number }) {
  const middle = (x + WIDTH / 2) / 2;
  const idlerY = (CAM_Y + CRANK_Y) / 2;
  const stages = drive.stages.length;
  return (
    <g>
      {stages > 1 ? (
        <>
          <Strand a={[WIDTH / 2, CRANK_Y, CRANK_R]} b={[middle, idlerY, IDLER_R]} />
          <Strand a={[middle, idlerY, IDLER_R - 5]} b={[x, CAM_Y, CAM_R]} />
          <circle cx={middle} cy={idlerY} r={IDLER_R} fill={ink("panel")} stroke={ink("mute")} strokeWidth="1.5" />
        </>
      ) : (
        <Strand a={[WIDTH / 2, CRANK_Y, CRANK_R]} b={[x, CAM_Y, CAM_R]} />
      )}
      <circle cx={x} cy={CAM_Y} r={CAM_R} fill={ink("panel")} stroke={ink("ink")} strokeWidth="2" />
      <text x={x} y={CAM_Y} textAnchor="middle" dominantBaseline="central" fontWeight="650">
        {drive.cam}
      </text>
    </g>
  );
}

/** Both runs of a chain or belt around two sprockets. */
function Strand({ a, b }: { a: [number, number, number]; b: [number, number, number] }) {
  const [ax, ay, ar] = a;
  const [bx, by, br] = b;
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const [nx, ny] = [-(by - ay) / length, (bx - ax) / length];
  return [1, -1].map((side) => (
    <line
      key={side}
      x1={ax + side * nx * ar}
      y1={ay + side * ny * ar}
      x2={bx + side * nx * br}
      y2={by + side * ny * br}
      stroke={ink("mute")}
      strokeWidth="1.5"
    />
  ));
}
