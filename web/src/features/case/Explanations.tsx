import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { percent } from "../../ui";

type Fault = Schemas["FaultResult"];

const LEAST = 0.01;
const MOST = 4;

/** The explanations with their chances, the most probable first; each opens to what speaks for and against it. */
export function Explanations({ faults, openFirst = false }: { faults: Fault[]; openFirst?: boolean }) {
  const shown = faults.filter((f, i) => i < 2 || (i < MOST && f.probability >= LEAST) || f.fault === "something_else");
  const rest = faults.filter((f) => !shown.includes(f));
  const [all, setAll] = useState(false);
  return (
    <Box>
      {(all ? faults : shown).map((fault, i) => (
        <One key={fault.fault} fault={fault} startsOpen={openFirst && i === 0} />
      ))}
      {rest.length > 0 && (
        <Box
          as="button"
          w="full"
          textAlign="start"
          fontSize="12.5px"
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
      <Box as="button" w="full" textAlign="start" aria-expanded={open} onClick={() => setOpen(!open)}>
        <Flex justify="space-between" gap="2" align="baseline">
          <Text fontWeight="620" lineHeight="1.3">
            {fault.title || fault.fault}
          </Text>
          <Text flex="none">{percent(fault.probability)}</Text>
        </Flex>
        <Box h="6px" bg="soft" rounded="full" mt="1" mb="0.5" aria-hidden="true">
          <Box h="full" w={`${100 * fault.probability}%`} minW="2px" bg="petrol" rounded="full" transition="width 150ms" />
        </Box>
        {!open && fault.probability >= LEAST && (
          <Text color="mute" fontSize="12.5px" lineHeight="1.35" lineClamp={2}>
            {summary(fault)}
          </Text>
        )}
      </Box>
      {open && (
        <Box fontSize="13px" mt="1" pl="0.5">
          {support.map((text) => (
            <Point key={text} mark="diamond" text={text} />
          ))}
          {against.map((text) => (
            <Point key={text} mark="square" text={text} />
          ))}
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

/** One line: what speaks against it where that is what there is, else its hint or what speaks for it. */
function summary(fault: Fault): string {
  if (fault.probability < 0.5 && fault.against?.[0]) return fault.against[0];
  return fault.for?.[0] ?? fault.hint ?? "";
}

/** Diamond: speaks for the fault. Square: speaks against it. */
function Point({ mark, text }: { mark: "diamond" | "square"; text: string }) {
  return (
    <Flex gap="2" align="baseline" py="0.5">
      <svg width="10" height="10" viewBox="0 0 10 10" style={{ flex: "none" }} role="img" aria-label={mark === "diamond" ? "for" : "against"}>
        {mark === "diamond" ? (
          <path d="M5 0l5 5-5 5-5-5z" fill="var(--chakra-colors-late)" />
        ) : (
          <rect x="1" y="1" width="8" height="8" fill="var(--chakra-colors-petrol)" />
        )}
      </svg>
      <Text lineHeight="1.35">{text}</Text>
    </Flex>
  );
}
