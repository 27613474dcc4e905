import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { tokensQuery } from "../../api/fleet-queries";
import { ActionButton, ErrorNote, numberOf, OptionalNumber, QuietButton, Select, Waiting } from "../../ui";
import { ShortField } from "./fields";
import { moment, type Role, ROLES, ROLE_WORDS } from "./roles";

const LONGEST_DAYS = 3650;

/** With which tokens programs come in; a new one is shown once. */
export function Programs() {
  const tokens = useQuery(tokensQuery);
  const changes = useChanges();
  const remove = useMutation({
    mutationFn: (name: string) => taken(client.DELETE("/api/tokens/{name}", { params: { path: { name } } })),
    onSuccess: () => changes.peopleChanged(),
  });
  if (tokens.isPending) return <Waiting>Reading which programs come in</Waiting>;
  if (tokens.isError) return <ErrorNote error={tokens.error} onRetry={() => void tokens.refetch()} />;
  return (
    <>
      <Text color="mute" mb="2">
        A program comes in with a token of its own, through the same interface as these screens, as far as its role reaches.
      </Text>
      {remove.isError && <ErrorNote error={remove.error} onClose={() => remove.reset()} />}
      {tokens.data.length > 0 && (
        <Box as="ul" listStyleType="none" mb="4" data-testid="tokens">
          {tokens.data.map((token) => (
            <Flex as="li" key={token.name} gap="3" align="center" wrap="wrap" borderBottomWidth="1px" borderColor="line" py="2">
              <Text fontWeight="650" minW="180px">
                {token.name}
              </Text>
              <Text>{ROLE_WORDS[token.role]}</Text>
              <Text color="mute" fontSize="13px">
                since {moment(token.created_at)}
                {token.ends_at && `, until ${moment(token.ends_at)}`}
              </Text>
              <Box flex="1" />
              <QuietButton onClick={() => remove.mutate(token.name)} aria-label={`Take out the token ${token.name}`}>
                Take out
              </QuietButton>
            </Flex>
          ))}
        </Box>
      )}
      <NewToken />
    </>
  );
}

function NewToken() {
  const changes = useChanges();
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>("reader");
  const [days, setDays] = useState("");
  const whole = numberOf(days);
  const wrong = days.trim() !== "" && !(whole !== null && Number.isInteger(whole) && whole >= 1 && whole <= LONGEST_DAYS);
  const add = useMutation({
    mutationFn: () => taken(client.POST("/api/tokens", { body: { name, role, days: whole } })),
    onSuccess: async () => {
      setName("");
      await changes.peopleChanged();
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
      {add.data && (
        <Box borderWidth="2px" borderColor="petrol" rounded="md" px="3.5" py="2.5" mb="3" data-testid="new-token">
          <Text>The token of {add.data.row.name}. Copy it now: it is not shown again.</Text>
          <Text as="code" fontSize="14px" fontWeight="600" wordBreak="break-all" userSelect="all">
            {add.data.token}
          </Text>
        </Box>
      )}
      <Flex gap="3" align="flex-end" wrap="wrap">
        <ShortField label="Name of the program" value={name} onChange={setName} />
        <Select label="Role" value={role} options={ROLES.map((r) => ({ value: r, text: ROLE_WORDS[r] }))} onPick={(next) => setRole(next as Role)} />
        <OptionalNumber label="Good for" unit="days" value={days} onChange={setDays} />
        <ActionButton type="submit" disabled={!name.trim() || wrong} loading={add.isPending}>
          Make a token
        </ActionButton>
      </Flex>
    </form>
  );
}
