import type { SVGProps } from "react";

type Props = Omit<SVGProps<SVGTextElement>, "fontSize" | "fontWeight"> & { size: number; weight?: number };

/** Text in a drawing. Size and weight go into the style, since base styles outrank the attributes. */
export function SvgText({ size, weight = 400, style, ...rest }: Props) {
  return <text {...rest} style={{ fontSize: `${size}px`, fontWeight: weight, ...style }} />;
}
