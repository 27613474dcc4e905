import { Text } from "@chakra-ui/react";

import type { Schemas } from "../../api/client";
import { ErrorNote, Sentence, Waiting } from "../../ui";

type Props = { result: Schemas["CaptureResult"] | undefined; failed: Error | null };

/** The measurement in a sentence, with its uncertainty under it. */
export function FindingHeadline({ result, failed }: Props) {
  if (failed) return <ErrorNote error={failed} />;
  if (!result) return <Waiting>Measuring</Waiting>;
  const finding = result.finding;
  if (!finding)
    return (
      <Text as="h1" fontSize="30px" fontWeight="720" mb="2" data-testid="headline">
        Nothing could be measured
      </Text>
    );
  return <Sentence finding={finding} />;
}
