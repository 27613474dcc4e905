import { Box } from "@chakra-ui/react";
import { Link } from "react-router";

import { EmptyNote } from "../ui";

export function NotFound() {
  return (
    <Box p="8">
      <EmptyNote title="There is no such screen">
        The link may be old. <Link to="/">Go to the bay board</Link>
      </EmptyNote>
    </Box>
  );
}
