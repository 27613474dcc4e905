import { plusMinus, signWord } from "../../ui";

/** An offset with its half width, both with as many digits as the half width has: a drift is small. */
export function withHalf({ value, u95 }: { value: number; u95: number }): string {
  const digits = u95 >= 3 ? 0 : u95 >= 0.095 ? 1 : 2;
  return `${Math.abs(value).toFixed(digits)} ${plusMinus(u95)}° ${Number(value.toFixed(digits)) === 0 ? "" : signWord(value, 0.01)}`.trim();
}

/** A fault's name in the tables, as words. */
export function faultWords(name: string): string {
  if (name === "none") return "nothing wrong";
  const words = name.replaceAll("_", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}
