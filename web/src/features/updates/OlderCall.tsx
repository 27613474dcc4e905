import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";

/** Beside a call that an older version made. */
export function OlderCall({ version }: { version: string | null | undefined }) {
  if (!version) return null;
  return (
    <Text fontSize="13.5px" mb="3" borderLeftWidth="4px" borderColor="petrol" pl="3" data-testid="older-call">
      Version {version} made this call; pictures are drawn by the one that runs now.{" "}
      <Box asChild color="petrol" fontWeight="600">
        <Link to="/updates">See what it would say</Link>
      </Box>
    </Text>
  );
}
