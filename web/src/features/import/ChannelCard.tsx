import { Box, Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { ink } from "../../ui/theme";
import { QuietButton, Select } from "../../ui";
import { laneColor, ROLE_NAMES } from "../signals";
import { ScaleFields } from "./ScaleFields";
import { changedChannel, type Channel, multiplied, type Role, ROLES, type Setup, type Sheet, withRole } from "./setup";

type Props = {
  channel: Channel;
  sheet: Sheet;
  setup: Setup;
  presets: Schemas["ScalePreset"][];
  onChange: (setup: Setup) => void;
  /** Its cylinder was asked for and not said. */
  wrong: boolean;
};

/** One channel: mark and name, role and which one, its scale, the reason, and how good it is. */
export function ChannelCard({ channel, sheet, setup, presets, onChange, wrong }: Props) {
  const column = channel.description.column;
  const own = setup.channels.find((c) => c.column === column);
  if (!own) return null;
  const set = (change: Partial<typeof own>) => onChange(changedChannel(setup, column, change));
  const color = laneColor({ role: own.role, cam: own.cam ?? null, column });
  return (
    <Box borderTopWidth="1px" borderColor="line" py="2" data-testid="channel">
      <Flex gap="3" rowGap="1.5" align="center" wrap="wrap">
        <svg width="14" height="14" role="img" aria-label={channel.certain ? "certain" : "only likely"}>
          <circle cx="7" cy="7" r="5" fill={channel.certain ? ink(color) : "none"} stroke={ink(color)} strokeWidth="2" />
        </svg>
        <Text w="120px" fontWeight="650" truncate title={column}>
          {column}
        </Text>
        <Select
          label="Role"
          hideLabel
          value={own.role}
          options={ROLES.map((role) => ({ value: role, text: ROLE_NAMES[role] ?? role }))}
          onPick={(role) => onChange(withRole(setup, column, role as Role, sheet))}
        />
        <Which own={own} sheet={sheet} onPick={set} wrong={wrong} />
        <ScaleFields own={own} unit={channel.description.unit} presets={presets} onPick={set} />
      </Flex>
      {wrong && (
        <Text color="late" fontSize="13px" fontWeight="650" pl="26px" role="alert">
          In which cylinder was the sensor? Say it: peak, corners and TDC are told of that one.
        </Text>
      )}
      {channel.proposal && (
        <Text color="mute" fontSize="13px" pl="26px">
          {channel.certain ? "" : "Only likely. "}
          {channel.proposal}
        </Text>
      )}
      {channel.remarks.map((remark) => (
        <Flex key={remark.code} gap="2" pl="26px" mt="1" align="center" wrap="wrap">
          <Text fontSize="13px" fontWeight={remark.hurts ? "650" : "400"} color={remark.hurts ? "late" : "mute"}>
            {remark.text}
          </Text>
          <Text fontSize="13px">{remark.remedy}</Text>
          {remark.factor !== null && (
            <QuietButton onClick={() => set(multiplied(own, remark.factor ?? 1, channel.description.unit, presets))}>
              × {remark.factor}
            </QuietButton>
          )}
          {remark.zero !== null && <UseZero zero={remark.zero} unit={channel.description.unit} then={remark.then} own={own} onPick={set} />}
        </Flex>
      ))}
    </Box>
  );
}

type Own = Setup["channels"][number];
type ZeroProps = { zero: number; unit: string; then: string; own: Own; onPick: (change: Partial<Own>) => void };

/** Takes off what the clamp read at rest; what it then reads is told before the sheet is kept, and a second press undoes it. */
function UseZero({ zero, unit, then, own, onPick }: ZeroProps) {
  const used = own.zero === zero;
  return (
    <>
      <QuietButton aria-pressed={used} onClick={() => onPick({ zero: used ? 0 : zero })}>
        {used ? "Leave the zero as it was" : `Use this zero, ${zero.toPrecision(2)} ${unit}`}
      </QuietButton>
      {used && (
        <Text fontSize="13px" role="status">
          {then}
        </Text>
      )}
    </>
  );
}

/** Which cam, wheel or cylinder. */
type WhichProps = { own: Own; sheet: Sheet; onPick: (change: Partial<Own>) => void; wrong: boolean };

function Which({ own, sheet, onPick, wrong }: WhichProps) {
  const names = (ids: string[], now: string | null | undefined) =>
    [...new Set([...ids, ...(now ? [now] : [])])].map((id) => ({ value: id, text: id }));
  if (own.role === "phaser_command")
    return (
      <>
        <Select label="Cam" hideLabel value={own.cam ?? ""} options={cams(sheet, own.cam)} onPick={(cam) => onPick({ cam })} />
        <Select
          label="Driven when the wire is"
          hideLabel
          value={own.driven ?? "low"}
          options={[
            { value: "low", text: "driven when low" },
            { value: "high", text: "driven when high" },
          ]}
          onPick={(driven) => onPick({ driven: driven === "high" ? "high" : null })}
        />
      </>
    );
  if (own.role === "cam") return <Select label="Cam" hideLabel value={own.cam ?? ""} options={cams(sheet, own.cam)} onPick={(cam) => onPick({ cam })} />;
  if (own.role === "aux")
    return <Select label="Wheel" hideLabel value={own.wheel ?? ""} options={names(sheet.wheels, own.wheel)} onPick={(wheel) => onPick({ wheel })} />;
  if (!["cylinder_pressure", "coil", "injector"].includes(own.role)) return null;
  const cylinders = Array.from({ length: sheet.cylinders }, (_, i) => String(i + 1));
  return (
    <Select
      label="Cylinder"
      hideLabel
      wrong={wrong}
      value={own.cylinder ? String(own.cylinder) : ""}
      options={[
        ...(own.role === "cylinder_pressure" ? (own.cylinder ? [] : [{ value: "", text: "which cylinder?" }]) : [{ value: "", text: "cylinder not said" }]),
        ...cylinders.map((c) => ({ value: c, text: `cylinder ${c}` })),
      ]}
      onPick={(value) => onPick({ cylinder: value === "" ? null : Number(value) })}
    />
  );
}

/** The cams of the engine by their names; one that the signals alone told has none yet. */
function cams(sheet: Sheet, now: string | null | undefined) {
  const listed = sheet.cams.map((cam) => ({ value: cam.id, text: cam.name }));
  if (!now || sheet.cams.some((cam) => cam.id === now)) return listed;
  return [{ value: now, text: `which cam? (${now})` }, ...listed];
}
