/** Keeps a capture as known good, with how that is known: its doubt goes with it into every comparison. */
import { Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";

import { useChanges } from "../../api/changes";
import { client, madeFrom, type Schemas, taken } from "../../api/client";
import { OutdatedNote, Select } from "../../ui";
import { HOW_GOOD, type HowGood } from "./how-good";

type Kept = { from: number; how: HowGood | null };

export function KnownGoodChoice({ capture }: { capture: Schemas["ImportedCapture"] }) {
  const changes = useChanges();
  const keep = useMutation({
    mutationFn: ({ from, how }: Kept) =>
      taken(
        client.PUT("/api/captures/{capture_id}/known-good", {
          params: { path: { capture_id: capture.id }, header: madeFrom(from) },
          body: { good: how !== null, how: how ?? "said", note: "" },
        }),
      ),
    onSuccess: changes.knownGoodChanged,
  });
  const theirs = async () => {
    await changes.knownGoodChanged();
    keep.reset();
  };
  return (
    <Flex direction="column" gap="1">
      <Select
        label="Keep as known good"
        value={capture.known_good ? (capture.known_good_how ?? "said") : "no"}
        options={[{ value: "no", text: "No" }, ...HOW_GOOD]}
        onPick={(picked) => keep.mutate({ from: capture.version, how: picked === "no" ? null : (picked as HowGood) })}
      />
      {keep.error && (
        <OutdatedNote error={keep.error} onMine={(from) => keep.mutate({ ...keep.variables, from })} onTheirs={() => void theirs()} onClose={keep.reset} />
      )}
    </Flex>
  );
}
