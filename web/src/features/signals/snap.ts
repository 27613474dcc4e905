/** Rulers snap to edges and borders. No framework. */

/** To the nearest edge or border within so many seconds. */
export function snapped(marks: number[], time: number, within: number): number {
  const nearest = marks.reduce((best, mark) => (Math.abs(mark - time) < Math.abs(best - time) ? mark : best), Infinity);
  return Math.abs(nearest - time) < within ? nearest : time;
}

/** The next edge or border before or after; where there is none the ruler stays. */
export function nextMark(marks: number[], time: number, by: number): number {
  const beyond = marks.filter((mark) => (by > 0 ? mark > time + 1e-7 : mark < time - 1e-7));
  if (!beyond.length) return time;
  return by > 0 ? Math.min(...beyond) : Math.max(...beyond);
}
