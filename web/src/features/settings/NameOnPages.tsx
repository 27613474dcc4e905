/** The workshop's name as it stands on the head of every page that is printed. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { workshopNameQuery } from "../../api/closing-queries";
import { ErrorNote, Labelled, PlainInput, SmallForm } from "../../ui";

export function NameOnPages() {
  const known = useQuery(workshopNameQuery);
  if (!known.data) return known.isError ? <ErrorNote error={known.error} /> : null;
  return <NameForm key={`${known.data.name} ${known.data.address}`} known={known.data} />;
}

function NameForm({ known }: { known: Schemas["WorkshopName"] }) {
  const changes = useChanges();
  const [name, setName] = useState(known.name);
  const [address, setAddress] = useState(known.address);
  const keep = useMutation({
    mutationFn: () => taken(client.PUT("/api/workshop-name", { body: { name, address } })),
    onSuccess: () => changes.workshopNamed(),
  });
  return (
    <SmallForm saving={keep} disabled={name === known.name && address === known.address}>
      <Labelled label="Name on every page">
        <PlainInput width={240} wrong={false} maxLength={120} value={name} onChange={(event) => setName(event.target.value)} />
      </Labelled>
      <Labelled label="Address">
        <PlainInput width={300} wrong={false} maxLength={200} value={address} onChange={(event) => setAddress(event.target.value)} />
      </Labelled>
    </SmallForm>
  );
}
