import { Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef, useState } from "react";

import { QuietButton } from "./buttons";

type Ways<T> = {
  takeOut: (one: T) => Promise<unknown>;
  bringBack: (one: T) => Promise<unknown>;
  refresh: () => Promise<unknown>;
};

/** Takes things out of a list, and brings the one that went last back: nothing is lost by a wrong key. */
export function useTakingOut<T>({ takeOut, bringBack, refresh }: Ways<T>) {
  const [gone, setGone] = useState<T | null>(null);
  const out = useMutation({
    mutationFn: takeOut,
    onSuccess: (_, one) => {
      setGone(one);
      return refresh();
    },
  });
  const back = useMutation({
    mutationFn: bringBack,
    onSuccess: () => {
      setGone(null);
      return refresh();
    },
  });
  return {
    gone,
    takeOut: (one: T) => out.mutate(one),
    /** That one, or the one that went last. */
    bringBack: (one: T | null = gone) => {
      if (one !== null) back.mutate(one);
    },
    failure: out.error ?? back.error,
    settle: () => {
      out.reset();
      back.reset();
    },
  };
}

/** What was taken out, with the way back. */
export function TakenOutNote({ children, hint, onBack }: { children: ReactNode; hint?: string; onBack: () => void }) {
  const way = useRef<HTMLButtonElement>(null);
  // What was taken out held the focus; it goes to the way back.
  useEffect(() => {
    way.current?.focus({ preventScroll: true });
  }, []);
  return (
    <Flex role="status" bg="soft" rounded="sm" px="4" py="2" my="3" align="center" gap="3">
      <Text flex="1">{children}</Text>
      <QuietButton ref={way} onClick={() => onBack()} {...(hint ? { hint } : {})}>
        Bring it back
      </QuietButton>
    </Flex>
  );
}
