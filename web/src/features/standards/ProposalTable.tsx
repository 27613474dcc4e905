/** What a profile could learn, part by part; a person leaves out what he will not have. */
import { Table } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { offsetWords, plusMinus, QuietTable, withHalf } from "../../ui";

type Proposal = Schemas["Proposal"];
type Props = { proposal: Proposal; left: string[]; onLeft: (left: string[]) => void };

/** The parts of a proposal that were not left out. */
export function keptParts(proposal: Proposal, left: string[]): string[] {
  return [...proposal.cams.map((cam) => cam.cam), ...(proposal.index ? ["index"] : [])].filter((part) => !left.includes(part));
}

export function ProposalTable({ proposal, left, onLeft }: Props) {
  const tick = (part: string) => (
    <input
      type="checkbox"
      style={{ width: 18, height: 18 }}
      checked={!left.includes(part)}
      aria-label={`Take over ${part === "index" ? "the index" : part}`}
      onChange={() => onLeft(left.includes(part) ? left.filter((one) => one !== part) : [...left, part])}
    />
  );
  return (
    <QuietTable label="Proposal" heads={["", "Part", "Moves by", "Half width", "Engines"]}>
      {proposal.cams.map((cam) => (
        <Table.Row key={cam.cam} bg="transparent">
          <Table.Cell>{tick(cam.cam)}</Table.Cell>
          <Table.Cell>Edges of {cam.cam}</Table.Cell>
          <Table.Cell whiteSpace="nowrap">{withHalf({ value: cam.mean_moved_deg, u95: cam.mean_u95_deg })}</Table.Cell>
          <Table.Cell whiteSpace="nowrap">
            {plusMinus(cam.u95_before_deg)}° → <b>{plusMinus(cam.u95_after_deg)}°</b>
          </Table.Cell>
          <Table.Cell>{cam.engines}</Table.Cell>
        </Table.Row>
      ))}
      {proposal.index && (
        <Table.Row bg="transparent">
          <Table.Cell>{tick("index")}</Table.Cell>
          <Table.Cell>Index, tooth 1 to TDC</Table.Cell>
          <Table.Cell whiteSpace="nowrap">{offsetWords(proposal.index.moved_deg, proposal.index.u95_after_deg)}</Table.Cell>
          <Table.Cell whiteSpace="nowrap">
            {plusMinus(proposal.index.u95_before_deg)}° → <b>{plusMinus(proposal.index.u95_after_deg)}°</b>
          </Table.Cell>
          <Table.Cell>{proposal.index.engines}</Table.Cell>
        </Table.Row>
      )}
    </QuietTable>
  );
}
