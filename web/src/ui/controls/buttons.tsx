import { Box, Button, type ButtonProps } from "@chakra-ui/react";
import type { Ref } from "react";

/** The one thing to do here. */
export function ActionButton(props: ButtonProps) {
  return (
    <Button
      bg="petrol"
      color="onPetrol"
      h="40px"
      px="4"
      fontWeight="650"
      fontSize="15px"
      _hover={{ opacity: 0.9 }}
      {...props}
    />
  );
}

type QuietProps = ButtonProps & { hint?: string; ref?: Ref<HTMLButtonElement> };

/** Everything else; `hint` is its key. */
export function QuietButton({ hint, children, ...rest }: QuietProps) {
  return (
    <Button
      variant="outline"
      borderColor="edge"
      bg="transparent"
      color="ink"
      h="32px"
      px="2.5"
      fontSize="13px"
      fontWeight="500"
      flex="none"
      _hover={{ bg: "soft" }}
      {...rest}
    >
      {children}
      {hint && (
        <Box as="span" color="mute" ml="1" aria-hidden="true">
          {hint}
        </Box>
      )}
    </Button>
  );
}
