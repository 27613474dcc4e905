/** Asks for the passphrase where one is set, before anything else is shown. */
import { Box, Field, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";

import { useChanges } from "../../api/changes";
import { client, taken } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { ActionButton, ErrorNote, QuietButton, Waiting } from "../../ui";

export function SessionGate({ children }: { children: ReactNode }) {
  const session = useQuery(sessionQuery);
  if (session.isPending) return <Waiting>Opening the workshop</Waiting>;
  if (session.isError)
    return (
      <Box p="8">
        <ErrorNote error={session.error} onRetry={() => void session.refetch()} />
      </Box>
    );
  return session.data.signed_in ? children : <SignIn />;
}

function SignIn() {
  const [name, setName] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const [shown, setShown] = useState(false);
  const changes = useChanges();
  const signIn = useMutation({
    mutationFn: () => taken(client.POST("/api/session", { body: { name, passphrase } })),
    onSuccess: changes.signedInOrOut,
  });
  return (
    <Flex minH="100dvh" align="center" justify="center" p="4">
      <Box
        as="form"
        bg="panel"
        borderWidth="1px"
        borderColor="line"
        rounded="md"
        p="8"
        w="380px"
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate();
        }}
      >
        <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15">
          Sign in
        </Text>
        <Text color="mute" mb="4">
          This workshop asks who you are before it shows anything.
        </Text>
        <Field.Root mb="3">
          <Field.Label>Name</Field.Label>
          <Input
            autoComplete="username"
            autoFocus
            maxLength={200}
            value={name}
            onChange={(event) => setName(event.target.value)}
            borderColor="mute"
          />
          <Field.HelperText>May stay empty for the lead</Field.HelperText>
        </Field.Root>
        <Field.Root mb="4">
          <Field.Label>Passphrase</Field.Label>
          <Input
            type={shown ? "text" : "password"}
            autoComplete="current-password"
            value={passphrase}
            onChange={(event) => setPassphrase(event.target.value)}
            borderColor="mute"
          />
        </Field.Root>
        <QuietButton type="button" mb="3" onClick={() => setShown(!shown)} aria-pressed={shown}>
          {shown ? "Hide the passphrase" : "Show the passphrase"}
        </QuietButton>
        {signIn.isError && <ErrorNote error={signIn.error} />}
        <ActionButton type="submit" mt="4" w="full" loading={signIn.isPending}>
          Sign in
        </ActionButton>
      </Box>
    </Flex>
  );
}
