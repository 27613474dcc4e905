/** A heading inside a station, and a quiet table. */
import { Box, Table, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { Sideways } from "./Sideways";

export function PanelTitle({ children, note }: { children: ReactNode; note?: ReactNode }) {
  return (
    <Text as="h2" fontWeight="650" fontSize="15px" mt="3" mb="1">
      {children}{" "}
      {note && (
        <Box as="span" color="mute" fontWeight="400" fontSize="13px">
          {note}
        </Box>
      )}
    </Text>
  );
}

/** `folds`: on a phone the cells of a row stand below each other, without the heads. */
type TableProps = { heads: ReactNode[]; children: ReactNode; label: string; folds?: boolean };

const FOLDED = {
  "@media (max-width: 767px)": {
    "& thead": { display: "none" },
    "& tr, & td": { display: "block" },
    "& td": { border: "none", minWidth: 0, whiteSpace: "normal" },
    "& tr": { borderBottom: "1px solid {colors.line}" },
  },
};

export function QuietTable({ heads, children, label, folds = false }: TableProps) {
  return (
    <Sideways label={label}>
      <Table.Root
        size="sm"
        aria-label={label}
        css={{
          "& th, & td": { borderColor: "line", bg: "transparent", color: "ink", px: "2", py: "1.5", verticalAlign: "top", fontSize: "13px" },
          "& tr": { bg: "transparent" },
          "& th": { color: "mute", fontSize: "13px", fontWeight: 500 },
          ...(folds ? FOLDED : {}),
        }}
      >
        <Table.Header>
          <Table.Row bg="transparent">
            {heads.map((head, i) => (head === "" ? <Table.Cell key={i} /> : <Table.ColumnHeader key={i}>{head}</Table.ColumnHeader>))}
          </Table.Row>
        </Table.Header>
        <Table.Body>{children}</Table.Body>
      </Table.Root>
    </Sideways>
  );
}
