import type { Schemas } from "../../api/client";
import { ink } from "../../app/theme";
import { LaneLabel } from "./LaneLabel";
import type { Strip } from "./strip-geometry";

type Channel = Schemas["RawChannel"];
type Props = { channel: Channel; strip: Strip; x: (s: number) => number; top: number; height: number };

const ROLE_COLOR: Record<string, string> = {
  crank: "crank",
  starter_current: "current",
  battery_voltage: "current",
  cylinder_pressure: "pressure",
  coil: "coil",
};

/** One channel as the band between its smallest and largest sample per pixel. */
export function RawLane({ channel, strip, x, top, height }: Props) {
  const low = Math.min(...channel.low);
  const high = Math.max(...channel.high);
  const y = (v: number) => top + height - 8 - ((v - low) / Math.max(1e-9, high - low)) * (height - 18);
  const points = channel.times_s.map((t, i) => ({ x: x(t), low: y(channel.low[i] ?? 0), high: y(channel.high[i] ?? 0) }));
  const path = points.map((p, i) => `${i ? "L" : "M"}${p.x.toFixed(1)} ${p.high.toFixed(1)}V${p.low.toFixed(1)}`).join("");
  const lane = strip.lanes.find((l) => l.cam === channel.cam);
  const color = lane ? (lane.shaft === "exhaust" ? "exhaust" : "intake") : (ROLE_COLOR[channel.role] ?? "mute");
  const name = lane?.name ?? channel.cam ?? channel.role.replace("_", " ");
  return (
    <g>
      <LaneLabel
        name={name.charAt(0).toUpperCase() + name.slice(1)}
        below={[`${low.toFixed(1)} to ${high.toFixed(1)} ${channel.unit}`]}
        color={color}
        y={top + 22}
      />
      <path d={path} fill="none" stroke={ink(color)} strokeWidth="1.2" />
    </g>
  );
}
