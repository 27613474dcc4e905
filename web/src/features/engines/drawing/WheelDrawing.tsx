import { Flex } from "@chakra-ui/react";

import type { Schemas } from "../../../api/client";
import { ink } from "../../../ui/theme";
import { pointAt, sector } from "./polar";

type Wheel = Schemas["SignalWheel"];

const COLORS = { crank: "crank", aux: "crank", intake: "intake", exhaust: "exhaust", single: "intake" } as const;

/** Every signal wheel as it stands when cylinder 1 fires, seen so that it turns clockwise under a sensor on top. */
export function WheelDrawings({ drawing }: { drawing: Schemas["EngineDrawing"] }) {
  return (
    <Flex gap="2" align="center" wrap={{ base: "wrap", sm: "nowrap" }}>
      {drawing.wheels.filter(onCrankItself).map((wheel) => (
        <WheelDrawing key={wheel.name} wheel={wheel} size={206} indexKnown={drawing.index_known} />
      ))}
      <Flex gap="1" rowGap="2" wrap="wrap" flex="1">
        {drawing.wheels.filter((wheel) => !onCrankItself(wheel)).map((wheel) => (
          <WheelDrawing key={wheel.name} wheel={wheel} size={128} indexKnown={drawing.index_known} />
        ))}
      </Flex>
    </Flex>
  );
}

const onCrankItself = (wheel: Wheel) => wheel.kind === "crank";

function WheelDrawing({ wheel, size, indexKnown }: { wheel: Wheel; size: number; indexKnown: boolean }) {
  const outer = size / 2 - 14;
  const root = outer - (wheel.kind === "crank" ? 9 : 7);
  const color = ink(COLORS[wheel.kind]);
  const first = wheel.kind === "crank" ? wheel.accurate_deg[0] : undefined;
  const [tx, ty] = pointAt(first ?? 0, wheel.turn_deg, root - 13);
  const count = wheel.kind === "crank" ? `${String(wheel.teeth.length)} teeth` : `${String(wheel.accurate_deg.length)} edges`;
  return (
    <svg
      width={size}
      height={size + 20}
      viewBox={`${String(-size / 2)} ${String(-size / 2)} ${String(size)} ${String(size + 20)}`}
      role="img"
      aria-label={`${wheel.label}, ${count}`}
      data-testid="wheel"
      fontSize="12"
      fill={ink("ink")}
    >
      <circle r={root} fill={ink("soft")} stroke={color} strokeWidth="1" />
      {wheel.gaps.map((gap) => (
        <path key={gap.from_deg} d={sector(gap, wheel.turn_deg, root - 4, outer)} fill={ink("paper")} stroke={color} strokeDasharray="3 3" />
      ))}
      {wheel.teeth.map((tooth) => (
        <path key={tooth.from_deg} d={sector(tooth, wheel.turn_deg, root - 1, outer)} fill={color} />
      ))}
      <path d={`M-5 ${String(-outer - 11)}h10l-5 8z`} fill={ink("petrol")} />
      <path d={`M${String(-root * 0.36)} ${String(-root * 0.36)}A${String(root * 0.5)} ${String(root * 0.5)} 0 0 1 ${String(root * 0.36)} ${String(-root * 0.36)}`} fill="none" stroke={ink("mute")} />
      <path d="M-5 -5l5 3l0 -6z" transform={`translate(${String(root * 0.36)} ${String(-root * 0.36)}) rotate(45)`} fill={ink("mute")} />
      {first !== undefined && (
        <text x={tx} y={ty} textAnchor="middle" dominantBaseline="central" fontWeight="700">
          1
        </text>
      )}
      <text textAnchor="middle" dominantBaseline="central" fontWeight="650">
        {wheel.kind === "crank" ? "Crank" : wheel.name}
      </text>
      <text y="15" textAnchor="middle" dominantBaseline="central" fill={ink("mute")} fontSize="11.5">
        {wheel.kind === "crank" ? wheel.label.replace("Crank ", "") : wheel.kind !== "aux" ? "" : wheel.turn_deg === 720 ? "on a cam" : "on the crank"}
      </text>
      <text y={size / 2 + 10} textAnchor="middle" fill={ink("mute")}>
        {first === undefined ? count : indexKnown ? `tooth 1 at ${String(Number(first.toFixed(2)))}°` : "index not known"}
      </text>
    </svg>
  );
}
