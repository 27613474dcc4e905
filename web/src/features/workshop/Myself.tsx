import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { ActionButton, ErrorNote, QuietButton } from "../../ui";
import { SecretField } from "./fields";
import { ROLE_WORDS } from "./roles";

type Session = Schemas["SessionState"];

/** Name and role, another passphrase, and out. */
export function Myself({ session }: { session: Session }) {
  const changes = useChanges();
  const out = useMutation({ mutationFn: () => taken(client.DELETE("/api/session")), onSuccess: changes.signedInOrOut });
  if (!session.passphrase_needed)
    return (
      <Text color="mute" maxW="720px">
        This server answers this machine alone, so nobody signs in. Once a lead is added below, everybody signs in with a name and a
        passphrase, and what they change is put down to them.
      </Text>
    );
  return (
    <>
      <Flex gap="3" align="center" mb="4" wrap="wrap">
        <Text>
          <b>{session.name}</b>, {session.role && ROLE_WORDS[session.role]}
        </Text>
        <QuietButton onClick={() => out.mutate()} loading={out.isPending}>
          Sign out
        </QuietButton>
      </Flex>
      <Passphrase />
    </>
  );
}

function Passphrase() {
  const changes = useChanges();
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const change = useMutation({
    mutationFn: () => taken(client.PUT("/api/session/passphrase", { body: { old, new: next } })),
    onSuccess: async () => {
      setOld("");
      setNext("");
      await changes.peopleChanged();
    },
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      {change.isError && <ErrorNote error={change.error} onClose={() => change.reset()} />}
      <Flex gap="3" align="flex-end" wrap="wrap">
        <SecretField label="Passphrase now" autoComplete="current-password" value={old} onChange={setOld} />
        <SecretField label="New one, 12 characters or more" autoComplete="new-password" value={next} onChange={setNext} />
        <ActionButton type="submit" disabled={!old || next.length < 12} loading={change.isPending}>
          Change my passphrase
        </ActionButton>
      </Flex>
      {change.isSuccess && (
        <Box role="status" mt="2">
          Changed. Everywhere else you are signed out.
        </Box>
      )}
    </form>
  );
}
