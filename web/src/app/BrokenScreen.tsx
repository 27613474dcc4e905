/** In place of a screen that could not be drawn. */
import { Box } from "@chakra-ui/react";
import { Link, useRouteError } from "react-router";

import { ErrorNote } from "../ui";
import { told } from "./Unseen";

export function BrokenScreen() {
  const error = told(useRouteError(), "this screen could not be drawn");
  return (
    <Box p="8">
      <ErrorNote error={error} onRetry={() => window.location.reload()} />
      <Link to="/">To the bay board</Link>
    </Box>
  );
}
