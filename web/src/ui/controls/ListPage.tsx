/** A page that is one list of links: heading, actions, and the rows, which the arrow keys walk through. */
import { Box, Flex, Text } from "@chakra-ui/react";
import type { UseQueryResult } from "@tanstack/react-query";
import { type ReactNode, useRef } from "react";

import { useKeys } from "./keys";
import { EmptyNote, ErrorNote, Waiting } from "./notes";

type Props<T> = {
  title: string;
  about: string;
  actions: ReactNode;
  rows: UseQueryResult<T[]>;
  waiting: string;
  empty: { title: string; text: ReactNode };
  onNew: () => void;
  /** Said before the list. */
  above?: ReactNode;
  children: (row: T) => ReactNode;
};

export function ListPage<T>({ title, about, actions, rows, waiting, empty, onNew, above, children }: Props<T>) {
  const list = useRef<HTMLUListElement>(null);
  const move = (step: number) => {
    const links = [...(list.current?.querySelectorAll<HTMLAnchorElement>("a") ?? [])];
    const at = links.findIndex((link) => link === document.activeElement);
    links[at < 0 ? 0 : Math.min(Math.max(at + step, 0), links.length - 1)]?.focus();
  };
  useKeys({ n: onNew, ArrowDown: () => move(1), ArrowUp: () => move(-1) });
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Flex align="end" justify="space-between" mb="5" gap="4" wrap={{ base: "wrap", sm: "nowrap" }}>
        <Box>
          <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15">
            {title}
          </Text>
          <Text color="mute">{about}</Text>
        </Box>
        <Flex gap="2" align="center" wrap="wrap">
          {actions}
        </Flex>
      </Flex>
      {above}
      {rows.isPending && <Waiting>{waiting}</Waiting>}
      {rows.isError && <ErrorNote error={rows.error} onRetry={() => void rows.refetch()} />}
      {rows.data?.length === 0 && <EmptyNote title={empty.title}>{empty.text}</EmptyNote>}
      {rows.data && rows.data.length > 0 && (
        <Box as="ul" ref={list} listStyleType="none" borderTopWidth="1px" borderColor="line">
          {rows.data.map((row) => children(row))}
        </Box>
      )}
    </Box>
  );
}
