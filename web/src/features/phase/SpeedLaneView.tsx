import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { LaneLabel } from "./LaneLabel";
import type { Scale } from "./strip-geometry";

type Props = { lane: Schemas["SpeedLane"]; cycle: number | null; scale: Scale; top: number; height: number };

/** Crank speed over the cycle: it sags at each compression. All cycles faint, the picked one or their mean solid. */
export function SpeedLaneView({ lane, cycle, scale, top, height }: Props) {
  const all = lane.rpm.flat();
  const low = Math.min(...all);
  const high = Math.max(...all);
  const bottom = top + height - 14;
  const y = (rpm: number) => bottom - ((rpm - low) / Math.max(1, high - low)) * (height - 26);
  const mean = lane.deg.map((_, i) => lane.rpm.reduce((sum, row) => sum + (row[i] ?? 0), 0) / lane.rpm.length);
  const shown = (cycle === null ? undefined : lane.rpm[cycle - 1]) ?? mean;
  const line = (row: number[]) =>
    row.map((rpm, i) => `${i ? "L" : "M"}${scale.x(lane.deg[i] ?? 0).toFixed(1)} ${y(rpm).toFixed(1)}`).join("");
  return (
    <g>
      <LaneLabel name="Crank speed" below={[`${low.toFixed(0)} to ${high.toFixed(0)} rpm`]} color="crank" y={top + 22} />
      <g opacity="0.25">
        {lane.rpm.map((row, i) => (
          <path key={i} d={line(row)} fill="none" stroke={ink("crank")} strokeWidth="1.2" />
        ))}
      </g>
      <path d={line(shown)} fill="none" stroke={ink("crank")} strokeWidth="2.2" />
    </g>
  );
}
