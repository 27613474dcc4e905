/** Which lanes are shown, in which order, how tall their signal is, and which lie over another. No framework. */
export type LaneSetting = { column: string; hidden: boolean; gain: number; over: boolean };

export const GAINS = [0.25, 0.5, 1, 2, 4, 8] as const;

/** The settings for these columns: what was chosen before is kept, what is new comes last. */
export function settingsFor(columns: string[], before: LaneSetting[]): LaneSetting[] {
  const kept = before.filter((lane) => columns.includes(lane.column));
  const known = new Set(kept.map((lane) => lane.column));
  return [...kept, ...columns.filter((c) => !known.has(c)).map((column) => ({ column, hidden: false, gain: 1, over: false }))];
}

export function moved(lanes: LaneSetting[], column: string, by: -1 | 1): LaneSetting[] {
  const at = lanes.findIndex((lane) => lane.column === column);
  const to = at + by;
  if (at < 0 || to < 0 || to >= lanes.length) return lanes;
  const next = [...lanes];
  const [lane] = next.splice(at, 1);
  if (lane) next.splice(to, 0, lane);
  return next;
}

export function changed(lanes: LaneSetting[], column: string, change: Partial<LaneSetting>): LaneSetting[] {
  return lanes.map((lane) => (lane.column === column ? { ...lane, ...change } : lane));
}

export function regained(lanes: LaneSetting[], column: string, by: -1 | 1): LaneSetting[] {
  const now = GAINS.findIndex((gain) => gain === lanes.find((lane) => lane.column === column)?.gain);
  const gain = GAINS[Math.min(GAINS.length - 1, Math.max(0, now + by))];
  return gain === undefined ? lanes : changed(lanes, column, { gain });
}

/** The rows on screen: each holds one lane, or several where lanes were laid over the one before. */
export function rows(lanes: LaneSetting[]): LaneSetting[][] {
  const found: LaneSetting[][] = [];
  for (const lane of lanes.filter((one) => !one.hidden)) {
    const last = found.at(-1);
    if (lane.over && last) last.push(lane);
    else found.push([lane]);
  }
  return found;
}
