import { Box, Flex } from "@chakra-ui/react";

import { QuietButton } from "../../ui";
import { listAt } from "./draft";
import { NumberAt, PickAt, TextAt, useForm } from "./fields";
import { Section } from "./Section";
import { FAILURES } from "./words";

/** What this type is known for: moves a chance before measuring, never whether the covers may come off. */
export function FailureFields() {
  const { draft, put } = useForm();
  const known = listAt(draft, ["typical_failures"]);
  return (
    <Section title="Known for" about="Moves the chance of a failure by 0.2 to 5 times before anything is measured; never whether the covers come off">
      {known.map((_, i) => (
        <Flex key={i} w="full" gap="3" wrap="wrap" align="end">
          <PickAt label="Failure" path={["typical_failures", i, "fault"]} options={FAILURES} />
          <NumberAt label="As often as usual" path={["typical_failures", i, "factor"]} width={60} after="times" />
          <TextAt label="Where it is known from" path={["typical_failures", i, "text"]} width={300} hint="bulletin, own jobs" />
          <QuietButton h="26px" aria-label={`Take out failure ${String(i + 1)}`} onClick={() => put(["typical_failures", i], undefined)}>
            Take out
          </QuietButton>
        </Flex>
      ))}
      <Box>
        <QuietButton onClick={() => put(["typical_failures", known.length], { fault: "chain_stretched", factor: 2 })}>
          Add a known failure
        </QuietButton>
      </Box>
    </Section>
  );
}
