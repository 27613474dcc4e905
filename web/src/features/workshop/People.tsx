import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { peopleQuery } from "../../api/queries";
import { ActionButton, ErrorNote, QuietButton, Select, Waiting } from "../../ui";
import { SecretField, ShortField } from "./fields";
import { moment, type Role, ROLES, ROLE_WORDS } from "./roles";

type Person = Schemas["PersonRow"];

/** Everybody who may sign in; a lead adds, changes and removes. */
export function People({ shared, own }: { shared: boolean; own: string }) {
  const people = useQuery(peopleQuery);
  if (people.isPending) return <Waiting>Reading who may come in</Waiting>;
  if (people.isError) return <ErrorNote error={people.error} onRetry={() => void people.refetch()} />;
  return (
    <>
      {people.data.length > 0 && (
        <Box as="ul" listStyleType="none" mb="4" data-testid="people">
          {people.data.map((person) => (
            <PersonLine key={person.name} person={person} self={person.name === own} />
          ))}
        </Box>
      )}
      <NewPerson first={!shared} />
    </>
  );
}

function PersonLine({ person, self }: { person: Person; self: boolean }) {
  const changes = useChanges();
  const [resetting, setResetting] = useState(false);
  const [passphrase, setPassphrase] = useState("");
  const path = { name: person.name };
  const stored = { onSuccess: () => changes.peopleChanged() };
  const role = useMutation({
    mutationFn: (next: Role) => taken(client.PUT("/api/people/{name}/role", { params: { path }, body: { role: next } })),
    ...stored,
  });
  const remove = useMutation({ mutationFn: () => taken(client.DELETE("/api/people/{name}", { params: { path } })), ...stored });
  const reset = useMutation({
    mutationFn: () => taken(client.PUT("/api/people/{name}/passphrase", { params: { path }, body: { passphrase } })),
    onSuccess: async () => {
      setResetting(false);
      setPassphrase("");
      await changes.peopleChanged();
    },
  });
  const error = role.error ?? remove.error ?? reset.error;
  return (
    <Box as="li" borderBottomWidth="1px" borderColor="line" py="2">
      {error && <ErrorNote error={error} onClose={() => [role, remove, reset].forEach((one) => one.reset())} />}
      <Flex gap="3" align="center" wrap="wrap">
        <Text fontWeight="650" minW="180px">
          {person.name}
          {self && " (you)"}
        </Text>
        <Select
          label={`Role of ${person.name}`}
          hideLabel
          value={person.role}
          options={ROLES.map((r) => ({ value: r, text: ROLE_WORDS[r] }))}
          onPick={(next) => role.mutate(next as Role)}
        />
        <Text color="mute" fontSize="13px">
          since {moment(person.created_at)}
        </Text>
        <Box flex="1" />
        <QuietButton onClick={() => setResetting(!resetting)}>New passphrase</QuietButton>
        <QuietButton onClick={() => remove.mutate()} disabled={self} aria-label={`Take out ${person.name}`}>
          Take out
        </QuietButton>
      </Flex>
      {resetting && (
        <Flex asChild gap="3" align="flex-end" mt="2" wrap="wrap">
          <form
            onSubmit={(event) => {
              event.preventDefault();
              reset.mutate();
            }}
          >
            <SecretField label={`New passphrase of ${person.name}`} autoComplete="new-password" value={passphrase} onChange={setPassphrase} />
            <ActionButton type="submit" disabled={passphrase.length < 12} loading={reset.isPending}>
              Set it
            </ActionButton>
          </form>
        </Flex>
      )}
    </Box>
  );
}

function NewPerson({ first }: { first: boolean }) {
  const changes = useChanges();
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>(first ? "lead" : "technician");
  const [passphrase, setPassphrase] = useState("");
  const add = useMutation({
    mutationFn: () => taken(client.POST("/api/people", { body: { name, role, passphrase } })),
    onSuccess: async () => {
      setName("");
      setPassphrase("");
      await (first ? changes.signedInOrOut() : changes.peopleChanged());
    },
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      {add.isError && <ErrorNote error={add.error} onClose={() => add.reset()} />}
      <Flex gap="3" align="flex-end" wrap="wrap">
        <ShortField label="Name" value={name} onChange={setName} />
        <Select label="Role" value={role} options={ROLES.map((r) => ({ value: r, text: ROLE_WORDS[r] }))} onPick={(next) => setRole(next as Role)} />
        <SecretField label="Passphrase, 12 characters or more" autoComplete="new-password" value={passphrase} onChange={setPassphrase} />
        <ActionButton type="submit" disabled={!name.trim() || passphrase.length < 12} loading={add.isPending}>
          {first ? "Add the first lead" : "Add"}
        </ActionButton>
      </Flex>
    </form>
  );
}
