/** A station that is still to come: it says so, and what it will hold. */
import { Text } from "@chakra-ui/react";

import type { Station } from "../../app/station";
import { EmptyNote } from "../../ui";

export function notBuilt(id: string, name: string, about: string): Station {
  return {
    id,
    name,
    component: () => (
      <>
        <Text as="h1" fontSize="30px" fontWeight="720" mb="4">
          {name}
        </Text>
        <EmptyNote title="This station is not built yet">
          It will hold {about}. Nothing is measured or recorded here, and the call does not count it.
        </EmptyNote>
      </>
    ),
    note: () => ({ done: false, note: "not built yet" }),
    keys: [],
  };
}
