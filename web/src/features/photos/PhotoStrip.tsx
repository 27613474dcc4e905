/** Photos at a station: taken with a phone or a scope's camera, captioned, taken out and brought back. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { apiPath } from "../../api/base";
import { useChanges } from "../../api/changes";
import { apiError, client, type Schemas, taken, unreachable } from "../../api/client";
import { photosQuery } from "../../api/closing-queries";
import { useDropped } from "../../app/dropped";
import { ErrorNote, FileButton, PlainInput, QuietButton, Sheet, TakenOutNote, useTakingOut } from "../../ui";

type Photo = Schemas["PhotoRow"];

export function PhotoStrip({ jobId, station }: { jobId: number; station: string }) {
  const photos = useQuery(photosQuery(jobId));
  const changes = useChanges();
  const [open, setOpen] = useState<Photo | null>(null);
  const add = useMutation({
    mutationFn: async (file: File) => {
      const form = new FormData();
      form.append("photo", file);
      form.append("station", station);
      const answer = await fetch(apiPath(`/api/jobs/${String(jobId)}/photos`), { method: "POST", body: form }).catch(() => {
        throw unreachable();
      });
      if (!answer.ok) throw apiError(answer.status, await answer.json().catch(() => null));
    },
    onSuccess: () => changes.photosChanged(jobId),
  });
  const addAll = async (files: File[]) => {
    for (const file of files) await add.mutateAsync(file).catch(() => undefined);
  };
  useDropped("photos", jobId, (files) => void addAll(files));
  const taking = useTakingOut<Photo>({
    takeOut: (photo) => taken(client.DELETE("/api/photos/{photo_id}", { params: { path: { photo_id: photo.id } } })),
    bringBack: (photo) => taken(client.POST("/api/photos/{photo_id}/restoration", { params: { path: { photo_id: photo.id } } })),
    refresh: () => changes.photosChanged(jobId),
  });
  const own = (photos.data ?? []).filter((photo) => photo.station === station);
  return (
    <Box as="section" aria-label="Photos" mt="6" pt="2" borderTopWidth="1px" borderColor="line" data-testid="photos">
      <Flex gap="3" align="center" wrap="wrap" mb="2">
        <Text fontWeight="600" fontSize="13.5px">
          {own.length ? `Photos (${String(own.length)})` : "Photos"}
        </Text>
        <FileButton name="Photo" accept="image/jpeg,image/png,image/webp" testId="photo-file" loading={add.isPending} onFile={(file) => add.mutate(file)}>
          Add a photo
        </FileButton>
        <Text color="mute" fontSize="13px">
          made smaller; the place it was taken is not kept
        </Text>
      </Flex>
      {add.isError && <ErrorNote error={add.error} onClose={() => add.reset()} />}
      {taking.failure && <ErrorNote error={taking.failure} onClose={taking.settle} />}
      {taking.gone && <TakenOutNote onBack={taking.bringBack}>The photo was taken out.</TakenOutNote>}
      <Flex gap="3" wrap="wrap">
        {own.map((photo) => (
          <Box key={photo.id} w="200px" data-testid="photo">
            <button type="button" onClick={() => setOpen(photo)} aria-label={`Large: ${photo.caption || photo.name}`}>
              <img src={apiPath(`/api/photos/${String(photo.id)}`)} alt={photo.caption || photo.name} loading="lazy" style={{ width: 200, height: 130, objectFit: "cover", borderRadius: 4 }} />
            </button>
            <Caption jobId={jobId} photo={photo} />
            <QuietButton mt="1" onClick={() => taking.takeOut(photo)} aria-label={`Take out ${photo.caption || photo.name}`}>
              Take out
            </QuietButton>
          </Box>
        ))}
      </Flex>
      <Sheet title={open?.caption || "Photo"} open={open !== null} onClose={() => setOpen(null)}>
        {open && <img src={apiPath(`/api/photos/${String(open.id)}`)} alt={open.caption || open.name} style={{ width: "100%" }} />}
      </Sheet>
    </Box>
  );
}

function Caption({ jobId, photo }: { jobId: number; photo: Photo }) {
  const changes = useChanges();
  // Null: nothing is typed that is not kept. The field itself stays, and the focus in it.
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? photo.caption;
  const keep = useMutation({
    mutationFn: () => taken(client.PUT("/api/photos/{photo_id}/caption", { params: { path: { photo_id: photo.id } }, body: { caption: text } })),
    onSuccess: async () => {
      await changes.photosChanged(jobId);
      setTyped(null);
    },
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <PlainInput
        aria-label={`Caption of ${photo.name}`}
        placeholder="What it shows"
        width={200}
        wrong={keep.isError}
        maxLength={300}
        value={text}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => text !== photo.caption && keep.mutate()}
      />
    </form>
  );
}
