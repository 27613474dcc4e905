import { ink } from "../../ui/theme";
import { SvgText } from "../../ui";

type Props = { name: string; below: string[]; color: string; y: number };

/** The name of a lane and what it is, left of it. Long names break at their last space. */
export function LaneLabel({ name, below, color, y }: Props) {
  const lines = name.length > 13 ? broken(name) : [name];
  return (
    <g>
      {lines.map((line, i) => (
        <SvgText key={line} x="0" y={y + 14 * i} size={13} weight={650} fill={ink(color)}>
          {line}
        </SvgText>
      ))}
      {below.map((line, i) => (
        <SvgText key={line} x="0" y={y + 14 * (lines.length + i)} size={11} fill={ink("mute")}>
          {line}
        </SvgText>
      ))}
    </g>
  );
}

function broken(name: string): string[] {
  const words = name.split(" ");
  const half = Math.ceil(words.length / 2);
  return [words.slice(0, half).join(" "), words.slice(half).join(" ")];
}
