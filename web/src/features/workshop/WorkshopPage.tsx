/** Who is here, who may come in, what was taken out, and who did what. */
import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import { sessionQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { ErrorNote, Part, Waiting } from "../../ui";
import { Carrying } from "./Carrying";
import { Log } from "./Log";
import { Myself } from "./Myself";
import { People } from "./People";
import { Programs } from "./Programs";
import { TakenOut } from "./TakenOut";

export function WorkshopPage() {
  const session = useQuery(sessionQuery);
  usePutHeader(null, "workshop", "Workshop");
  if (session.isPending) return <Box p="6"><Waiting>Looking who is here</Waiting></Box>;
  if (session.isError) return <Box p="6"><ErrorNote error={session.error} onRetry={() => void session.refetch()} /></Box>;
  const lead = session.data.role === "lead";
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" mb="4">
        Workshop
      </Text>
      <Part title="You">
        <Myself session={session.data} />
      </Part>
      {lead && (
        <Part title="People">
          <People shared={session.data.passphrase_needed} own={session.data.name} />
        </Part>
      )}
      {lead && (
        <Part title="Programs">
          <Programs />
        </Part>
      )}
      <Part title="Carrying jobs">
        <Carrying lead={lead} />
      </Part>
      <Part title="Taken out">
        <TakenOut lead={lead} />
      </Part>
      {lead && (
        <Part title="Who did what">
          <Log />
        </Part>
      )}
      <Part title="Program">
        <Text>
          Phasko {session.data.version}, code {session.data.code}
        </Text>
        <Text color="mute">Results are stored with both. A result of other code is shown as older until you accept the new one.</Text>
      </Part>
    </Box>
  );
}

