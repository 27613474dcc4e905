import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { percent } from "../../ui";
import { WhyMark } from "../why";

type Fault = Schemas["FaultResult"];

const LEAST = 0.01;
const MOST = 4;

/** The explanations with their chances, the most probable first; each opens to what speaks for and against it. */
export function Explanations({ faults, openFirst = false }: { faults: Fault[]; openFirst?: boolean }) {
  const shown = faults.filter(
    (f, i) => f.besides || i < 2 || (i < MOST && f.probability >= LEAST) || f.fault === "something_else",
  );
  const rest = faults.filter((f) => !shown.includes(f));
  const [all, setAll] = useState(false);
  return (
    <Box>
      {(all ? faults : shown).map((fault, i) => (
        <One key={`${fault.fault}${fault.besides ? "-besides" : ""}`} fault={fault} startsOpen={openFirst && i === 0} />
      ))}
      {rest.length > 0 && (
        <Box
          as="button"
          w="full"
          textAlign="start"
          fontSize="13px"
          color="petrol"
          py="1"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all ? "Fewer" : `${rest.length} more, each ${rest.some((f) => f.probability >= LEAST) ? "less likely" : "under 1%"}`}
        </Box>
      )}
    </Box>
  );
}

function One({ fault, startsOpen }: { fault: Fault; startsOpen: boolean }) {
  const [open, setOpen] = useState(startsOpen);
  const support = fault.for ?? [];
  const against = fault.against ?? [];
  return (
    <Box mb="2" data-testid={`fault-${fault.fault}`}>
      <Flex align="flex-start">
        <Box as="button" flex="1" minW="0" textAlign="start" aria-expanded={open} onClick={() => setOpen(!open)}>
          <Flex justify="space-between" gap="2" align="baseline">
            <Text fontWeight="620" lineHeight="1.3">
              {fault.besides && (
                <Box as="span" color="mute" fontWeight="400">
                  Besides:{" "}
                </Box>
              )}
              {fault.title || fault.fault}
            </Text>
            <Text flex="none">{percent(fault.probability)}</Text>
          </Flex>
          <Box h="6px" bg="soft" rounded="full" mt="1" mb="0.5" aria-hidden="true">
            <Box h="full" w={`${100 * fault.probability}%`} minW="2px" bg="petrol" rounded="full" transition="width 150ms" />
          </Box>
          {!open && fault.probability >= LEAST && <Summary fault={fault} />}
        </Box>
        <WhyMark id={`chance/${fault.fault}${fault.besides ? "/besides" : ""}`} about={fault.title || fault.fault} />
      </Flex>
      {open && (
        <Box fontSize="13px" mt="1" pl="0.5">
          <Points title="For" mark="diamond" texts={support} />
          <Points title="Against" mark="square" texts={against} />
          {fault.hint && (
            <Text color="mute" mt="1">
              {fault.hint}
            </Text>
          )}
        </Box>
      )}
    </Box>
  );
}

/** The line that parts it from its neighbour, with its mark; else its hint. */
function Summary({ fault }: { fault: Fault }) {
  const telling = fault.telling;
  return (
    <Box color="mute" fontSize="13px">
      {telling ? (
        <Point mark={telling.startsWith("+") ? "diamond" : "square"} text={telling.slice(2)} lines={2} />
      ) : (
        <Text lineHeight="1.35" lineClamp={2}>
          {fault.hint}
        </Text>
      )}
    </Box>
  );
}

/** Diamond: speaks for the fault. Square: speaks against it. */
function Points({ title, mark, texts }: { title: string; mark: Mark; texts: string[] }) {
  if (!texts.length) return null;
  return (
    <Box as="section" aria-label={title} mb="1">
      <Text fontWeight="650">{title}</Text>
      {texts.map((text) => (
        <Point key={text} mark={mark} text={text} />
      ))}
    </Box>
  );
}

type Mark = "diamond" | "square";

function Point({ mark, text, lines }: { mark: Mark; text: string; lines?: number }) {
  return (
    <Flex gap="2" align="baseline" py="0.5">
      <svg width="10" height="10" viewBox="0 0 10 10" style={{ flex: "none" }} role="img" aria-label={mark === "diamond" ? "for" : "against"}>
        {mark === "diamond" ? (
          <path d="M5 0l5 5-5 5-5-5z" fill="var(--chakra-colors-late)" />
        ) : (
          <rect x="1" y="1" width="8" height="8" fill="var(--chakra-colors-petrol)" />
        )}
      </svg>
      <Text lineHeight="1.35" {...(lines ? { lineClamp: lines } : {})}>
        {text}
      </Text>
    </Flex>
  );
}
