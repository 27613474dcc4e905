/** Valve corners set by hand: which one, where, kept, or given back to the one that was found. */
import { Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, ErrorNote, offsetWords, plusMinus, QuietButton, useKeys } from "../../ui";
import { type Draft, draftAt, draftOf, nameOf } from "./draft";

type Found = { jobId: number; captureId: number; one: Schemas["FeltView"]; handU95Deg: number };

/** The mark that is being set; `null` while nobody sets one. */
export function useHandMarks({ jobId, captureId, one, handU95Deg }: Found) {
  const changes = useChanges();
  const [at, setAt] = useState<number | null>(null);
  const [angle, setAngle] = useState<number | null>(null);
  const path = { capture_id: captureId };
  const kept = useMutation({
    mutationFn: (body: Schemas["HandCorner"]) => taken(client.PUT("/api/captures/{capture_id}/hand-corner", { params: { path }, body })),
    onSuccess: () => changes.captureChanged(jobId, captureId),
  });
  const given = useMutation({
    mutationFn: (body: Schemas["HandCorner"]) => taken(client.PUT("/api/captures/{capture_id}/found-corner", { params: { path }, body })),
    onSuccess: () => changes.captureChanged(jobId, captureId),
  });
  const places = one.profile_corners;
  const place = at === null ? undefined : places[at];
  const draft = place ? (angle === null ? draftOf(one, place, handU95Deg) : draftAt(one, place, angle, handU95Deg)) : null;
  const pick = (next: number | null) => {
    setAt(next);
    setAngle(null);
  };
  const body = (of: Draft): Schemas["HandCorner"] => ({
    cylinder: one.cylinder,
    segment: one.segment === "running" ? "running" : "cranking",
    valve: of.valve,
    end: of.what,
    angle_deg: (of.angle_deg + 720) % 720,
  });
  const move = (by: number) => draft && setAngle(draft.angle_deg + by);
  return {
    draft,
    possible: places.length > 0,
    pending: kept.isPending || given.isPending,
    error: kept.error ?? given.error,
    toggle: () => pick(at === null ? 0 : null),
    leave: () => pick(null),
    next: () => pick(at === null ? 0 : (at + 1) % places.length),
    pick: (valve: string, what: string) => pick(places.findIndex((p) => p.valve === valve && p.what === what)),
    move,
    place: (angleDeg: number) => setAngle(Math.round(2 * angleDeg) / 2),
    keep: () => draft && kept.mutate(body(draft), { onSuccess: () => setAngle(null) }),
    giveBack: () => draft && given.mutate(body(draft), { onSuccess: () => setAngle(null) }),
  };
}

export type HandMarks = ReturnType<typeof useHandMarks>;

/** The commands while a mark is set; its keys are asked before those of the page. */
export function HandMarkBar({ marks }: { marks: HandMarks }) {
  useKeys({
    ArrowLeft: () => marks.move(-0.5),
    ArrowRight: () => marks.move(0.5),
    "shift+ArrowLeft": () => marks.move(-5),
    "shift+ArrowRight": () => marks.move(5),
    Tab: marks.next,
    Enter: () => marks.keep(),
    Delete: () => marks.giveBack(),
    Escape: marks.leave,
  });
  const { draft } = marks;
  if (!draft) return null;
  return (
    <Flex role="group" aria-label="Mark by hand" data-testid="hand-mark" bg="panel" borderWidth="1px" borderColor="petrol" borderRadius="md" px="3" py="2" mb="2.5" gap="3" wrap="wrap" align="center">
      <Text fontSize="14px" aria-live="polite">
        <Text as="span" fontWeight="650">
          {nameOf(draft)} by hand
        </Text>{" "}
        {draft.angle_deg.toFixed(1)}° after its TDC, {offsetWords(draft.angle_deg - draft.profile_deg, 0.5)} against the profile
      </Text>
      <Flex gap="1.5" wrap="wrap">
        <QuietButton onClick={() => marks.move(-0.5)} aria-label="Half a degree earlier">
          ←
        </QuietButton>
        <QuietButton onClick={() => marks.move(0.5)} aria-label="Half a degree later">
          →
        </QuietButton>
        <QuietButton onClick={marks.next} hint="Tab">
          Next corner
        </QuietButton>
        <ActionButton onClick={() => marks.keep()} loading={marks.pending} title="Enter">
          Save this mark
        </ActionButton>
        {draft.byHand && (
          <QuietButton onClick={() => marks.giveBack()} hint="Del">
            Back to found
          </QuietButton>
        )}
        <QuietButton onClick={marks.leave} hint="Esc">
          Leave
        </QuietButton>
      </Flex>
      <Text fontSize="13px" color="mute">
        Arrows move by half a degree, with Shift by five; a tap in the loupe sets it there. It counts as {plusMinus(draft.u95_deg)}° and is always named by hand.
      </Text>
      {marks.error && <ErrorNote error={marks.error} />}
    </Flex>
  );
}
