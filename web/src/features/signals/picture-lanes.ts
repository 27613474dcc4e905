/** Where each lane stands, what it is called, and its colour as the page shows it now. */
import { figure } from "../../ui";
import { ink } from "../../ui/theme";
import { reach } from "./band";
import { type Box, LEFT, valueScale } from "./draw";
import type { LaneSetting } from "./lanes";
import { laneColor, laneName } from "./names";
import type { PictureLane } from "./picture";
import type { Trace } from "./trace";

export const ROW_H = 62;

export function pictureLanes(trace: Trace, stacked: LaneSetting[][], plot: number): PictureLane[] {
  return stacked.flatMap((row, i) => {
    const box: Box = { left: LEFT, top: i * ROW_H, width: plot, height: ROW_H };
    return row.flatMap((lane, k) => {
      const channel = trace.channels.find((c) => c.column === lane.column);
      if (!channel) return [];
      const [low, high] = reach(channel);
      return [
        {
          name: laneName(channel),
          nameTop: box.top + 18 + (k ? 20 + 13 * k : 0),
          below: k ? "" : `${figure(low)} to ${figure(high)} ${channel.unit}`,
          color: computed(laneColor(channel)),
          channel,
          box,
          y: valueScale(channel, box, lane.gain),
        },
      ];
    });
  });
}

/** A colour as the page shows it now, for canvas and files. */
export function computed(token: string): string {
  const name = ink(token).slice(4, -1);
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim() || "#444";
}
