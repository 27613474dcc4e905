/** Diamond: speaks for an explanation. Square: speaks against it. The larger, the more it weighs. */

const FIRST_PX = 4.5;
const PER_TEN_PX = 5.6;
const MOST_TENS = 3;

/** Side in pixels of a mark for odds of two to the power of `bits`: a step for each factor of ten, up to 1000 to 1. */
export function markSide(bits: number): number {
  return FIRST_PX + PER_TEN_PX * Math.min(Math.abs(bits) * Math.log10(2), MOST_TENS);
}

/** Odds in words: `20 to 1`, `over 1000 to 1`. */
export function oddsWords(bits: number): string {
  const odds = 2 ** Math.abs(bits);
  return odds > 1000 ? "over 1000 to 1" : `${odds < 10 ? odds.toFixed(1) : odds.toFixed(0)} to 1`;
}

export function WeightMark({ bits, side = markSide(bits) }: { bits: number; side?: number }) {
  const half = side / 2;
  const box = 24;
  const middle = box / 2;
  const label = `${bits > 0 ? "for" : "against"}, ${oddsWords(bits)}`;
  return (
    <svg width={box} height={box} viewBox={`0 0 ${box} ${box}`} style={{ flex: "none" }} role="img" aria-label={label}>
      {bits > 0 ? (
        <path
          d={`M${middle} ${middle - half * 1.25}l${half * 1.25} ${half * 1.25}-${half * 1.25} ${half * 1.25}-${half * 1.25}-${half * 1.25}z`}
          fill="var(--chakra-colors-late)"
        />
      ) : (
        <rect x={middle - half} y={middle - half} width={side} height={side} fill="var(--chakra-colors-petrol)" />
      )}
    </svg>
  );
}
