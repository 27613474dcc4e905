/** The channels of every round: where each lead goes, through which probe, in which range; pins and colours by hand. */
import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { PanelTitle, PlainInput, QuietTable, Select } from "../../ui";
import { couplingWords, placeWords, voltWords } from "./words";

type Lead = Schemas["LeadOut"];
type Wire = Schemas["Wire"];
type Props = {
  page: Schemas["HookUpPage"];
  onWires: (wires: Wire[]) => void;
  /** A range set by hand; null: as planned. */
  onRange: (signal: string, rangeV: number | null) => void;
};

const COLOURS: Record<string, string> = {
  crank: "crank",
  aux: "crank",
  cam: "intake",
  coil: "coil",
  injector: "coil",
  starter_current: "current",
  battery_voltage: "current",
  cylinder_pressure: "pressure",
};

/** Leads that are clipped to a wire with a pin and a colour. */
const WIRED = ["crank", "cam", "aux", "coil", "injector", "phaser_command"];

/** The colour of a lead, as its lane has it. */
export function leadColour(lead: Lead): string {
  if (lead.role === "cam") return /exhaust/i.test(lead.name) ? "exhaust" : "intake";
  return COLOURS[lead.role] ?? "crank";
}

export function LeadTable({ page, onWires, onRange }: Props) {
  const wires = page.hook_up.wires ?? [];
  const put = (wire: Wire) => onWires([...wires.filter((one) => one.signal !== wire.signal), wire]);
  return (
    <Box as="section" aria-label="Channels">
      {page.rounds.map((round, i) => (
        <Box key={i}>
          {page.rounds.length > 1 && (
            <PanelTitle note={i === 0 ? "the crank stays where it is in every round" : undefined}>Round {i + 1}</PanelTitle>
          )}
          <QuietTable folds label={`Channels, round ${String(i + 1)}`} heads={["", "Signal", "Clip it to", "Probe", "Range", "Pin, colour"]}>
            {round.map((lead, number) => (
              <LeadRow key={lead.key} lead={lead} number={number + 1} onWire={put} onRange={(rangeV) => onRange(lead.key, rangeV)} />
            ))}
          </QuietTable>
        </Box>
      ))}
      {page.dropped.map((words) => (
        <Text key={words} fontSize="13px" color="mute">
          {words}.
        </Text>
      ))}
    </Box>
  );
}

type RowProps = { lead: Lead; number: number; onWire: (wire: Wire) => void; onRange: (rangeV: number | null) => void };

function LeadRow({ lead, number, onWire, onRange }: RowProps) {
  const colour = leadColour(lead);
  return (
    <Table.Row data-testid="lead" data-lead={lead.key}>
      <Table.Cell>
        <LeadNumber number={number} colour={colour} />
      </Table.Cell>
      <Table.Cell fontWeight="600" minW="130px">
        {lead.name}
        {placeWords(lead) && <Text fontWeight="400">{placeWords(lead)}</Text>}
      </Table.Cell>
      <Table.Cell minW="210px">
        {lead.clip}
        {lead.note && (
          <Text color="mute" fontSize="13px">
            {lead.note}
          </Text>
        )}
      </Table.Cell>
      <Table.Cell>
        {lead.attenuator > 1 ? (
          <Text as="span" fontWeight="650">
            {lead.probe}
          </Text>
        ) : (
          lead.probe
        )}
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap">
        <Select
          label={`Range of ${lead.name}`}
          hideLabel
          value={String(lead.range_v)}
          options={lead.ranges_v.map((range) => ({ value: String(range), text: voltWords(range) }))}
          onPick={(picked) => onRange(Number(picked) === lead.planned_range_v ? null : Number(picked))}
        />
        {couplingWords(lead)}
        {lead.range_v !== lead.planned_range_v && <Text fontWeight="650">planned {voltWords(lead.planned_range_v)}</Text>}
      </Table.Cell>
      <Table.Cell>
        {WIRED.includes(lead.role) && <WireFields key={`${lead.wire?.pin ?? ""} ${lead.wire?.colour ?? ""}`} lead={lead} onWire={onWire} />}
      </Table.Cell>
    </Table.Row>
  );
}

export function LeadNumber({ number, colour }: { number: number; colour: string }) {
  return (
    <Flex w="24px" h="24px" rounded="full" bg={colour} color="panel" align="center" justify="center" fontSize="13px" fontWeight="700">
      {number}
    </Flex>
  );
}

function WireFields({ lead, onWire }: { lead: Lead; onWire: (wire: Wire) => void }) {
  const [pin, setPin] = useState(lead.wire?.pin ?? "");
  const [colour, setColour] = useState(lead.wire?.colour ?? "");
  const keep = () => {
    if (pin !== (lead.wire?.pin ?? "") || colour !== (lead.wire?.colour ?? ""))
      onWire({ signal: lead.key, at: lead.at === "control_unit" ? "control_unit" : "sensor", pin: pin.trim(), colour: colour.trim() });
  };
  const leave = (event: React.KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
  };
  return (
    <Flex gap="1">
      <PlainInput data-field="pin" aria-label={`Pin of ${lead.name}`} placeholder="pin" width={46} wrong={false} maxLength={40} value={pin} onChange={(e) => setPin(e.target.value)} onBlur={keep} onKeyDown={leave} />
      <PlainInput aria-label={`Colour of ${lead.name}`} placeholder="colour" width={84} wrong={false} maxLength={60} value={colour} onChange={(e) => setColour(e.target.value)} onBlur={keep} onKeyDown={leave} />
    </Flex>
  );
}
