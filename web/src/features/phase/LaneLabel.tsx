import { ink } from "../../app/theme";

type Props = { name: string; below: string[]; color: string; y: number };

/** The name of a lane and what it is, left of it. Long names break at their last space. */
export function LaneLabel({ name, below, color, y }: Props) {
  const lines = name.length > 13 ? broken(name) : [name];
  return (
    <g>
      {lines.map((line, i) => (
        <text key={line} x="0" y={y + 14 * i} fontSize="13" fontWeight="650" fill={ink(color)}>
          {line}
        </text>
      ))}
      {below.map((line, i) => (
        <text key={line} x="0" y={y + 14 * (lines.length + i)} fontSize="11" fill={ink("mute")}>
          {line}
        </text>
      ))}
    </g>
  );
}

function broken(name: string): string[] {
  const words = name.split(" ");
  const half = Math.ceil(words.length / 2);
  return [words.slice(0, half).join(" "), words.slice(half).join(" ")];
}
