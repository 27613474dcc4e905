import type { InputHTMLAttributes } from "react";

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, "style" | "width"> & { width: number; wrong: boolean };

/** A small text field; `wrong` marks what it holds. */
export function PlainInput({ width, wrong, ...rest }: Props) {
  return (
    <input
      autoComplete="off"
      aria-invalid={wrong}
      style={{
        height: 32,
        width,
        maxWidth: "100%",
        padding: "0 6px",
        fontSize: 13.5,
        color: "var(--chakra-colors-ink)",
        background: "var(--chakra-colors-panel)",
        border: `1px solid var(--chakra-colors-${wrong ? "late" : "edge"})`,
        borderRadius: 4,
      }}
      {...rest}
    />
  );
}
