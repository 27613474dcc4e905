/** Every job of the workshop: found by words and filters. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { logbookQuery, type Search } from "../../api/closing-queries";
import { enginesQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { EmptyNote, ErrorNote, Labelled, PlainInput, QuietButton, Select, useKeys, useSettled, Waiting } from "../../ui";
import { BoardRow } from "../board";
import { CAUSE, GATE, STATE } from "./words";

const AT_ONCE = 50;

export function LogbookPage() {
  const [asked, setAsked] = useSearchParams();
  const field = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  usePutHeader(null, "logbook", "Logbook");
  const move = (step: number) => {
    const links = [...(list.current?.querySelectorAll<HTMLAnchorElement>("a") ?? [])];
    const at = links.findIndex((link) => link === document.activeElement);
    links[at < 0 ? 0 : Math.min(Math.max(at + step, 0), links.length - 1)]?.focus();
  };
  useKeys({ "/": () => field.current?.focus(), ArrowDown: () => move(1), ArrowUp: () => move(-1) });
  useEffect(() => field.current?.focus(), []);
  const set = (name: string, value: string) =>
    setAsked(
      (now) => {
        const next = new URLSearchParams(now);
        if (value) next.set(name, value);
        else next.delete(name);
        if (name !== "most") next.delete("most");
        return next;
      },
      { replace: true },
    );
  // What is typed stands in the field at once; the address follows when the typing rests.
  const [typed, setTyped] = useState(asked.get("text") ?? "");
  const text = useSettled(typed, 200);
  useEffect(() => {
    if ((asked.get("text") ?? "") !== text) set("text", text);
  }, [text]); // eslint-disable-line react-hooks/exhaustive-deps -- only the text drives it: filters write themselves
  const most = Number(asked.get("most") ?? AT_ONCE);
  const search: Search = {
    text,
    state: (asked.get("state") ?? "every") as NonNullable<Search["state"]>,
    engine: asked.get("engine") ?? "",
    code: asked.get("code") ?? "",
    holder: asked.get("holder") ?? "",
    cause: (asked.get("cause") ?? "") as NonNullable<Search["cause"]>,
    gate: (asked.get("gate") ?? "") as NonNullable<Search["gate"]>,
    since: asked.get("since") ?? "",
    until: asked.get("until") ?? "",
    most,
  };
  const found = useQuery(logbookQuery(search));
  const total = found.data?.total ?? 0;
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Flex align="end" justify="space-between" gap="4" mb="3" wrap="wrap">
        <Box>
          <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15">
            Logbook
          </Text>
          <Text color="mute" data-testid="found-count">
            {found.data ? (total === 1 ? "One job" : `${String(total)} jobs`) : " "}
          </Text>
        </Box>
        <QuietButton asChild h="40px">
          <Link to="/learning">What closed jobs teach</Link>
        </QuietButton>
      </Flex>
      <Box mb="2" maxW="640px">
        <input
          ref={field}
          aria-label="Search the logbook"
          placeholder="Vehicle, engine, code, finding, any words of a job"
          value={typed}
          maxLength={200}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "ArrowDown") {
              event.preventDefault();
              move(1);
            }
            if (event.key === "Escape") event.currentTarget.blur();
          }}
          style={{
            width: "100%",
            height: 44,
            padding: "0 12px",
            fontSize: 17,
            color: "var(--chakra-colors-ink)",
            background: "var(--chakra-colors-panel)",
            border: "1px solid var(--chakra-colors-mute)",
            borderRadius: 4,
          }}
        />
      </Box>
      <Filters asked={asked} set={set} />
      {found.isPending && <Waiting>Searching</Waiting>}
      {found.isError && <ErrorNote error={found.error} onRetry={() => void found.refetch()} />}
      {found.data?.rows.length === 0 && <EmptyNote title="No job is like that">Fewer words or filters find more. Jobs that were taken out are under Workshop.</EmptyNote>}
      {found.data && found.data.rows.length > 0 && (
        <Box as="ul" ref={list} listStyleType="none" borderTopWidth="1px" borderColor="line">
          {found.data.rows.map((row) => (
            <BoardRow key={row.job.id} row={row} />
          ))}
        </Box>
      )}
      {found.data && total > found.data.rows.length && most < 200 && (
        <QuietButton mt="3" onClick={() => set("most", String(Math.min(200, most + AT_ONCE)))}>
          Show more
        </QuietButton>
      )}
      {found.data && total > found.data.rows.length && most >= 200 && (
        <Text color="mute" mt="3">
          The newest 200 of {total} are shown. More words or a span of days find the others.
        </Text>
      )}
    </Box>
  );
}

function Filters({ asked, set }: { asked: URLSearchParams; set: (name: string, value: string) => void }) {
  const engines = useQuery(enginesQuery);
  const names = (engines.data ?? []).map((engine) => ({ value: engine.name, text: engine.name }));
  const value = (name: string) => asked.get(name) ?? "";
  return (
    <Flex gap="2" wrap="wrap" align="flex-end" mb="4">
      <Select label="State" value={value("state") || "every"} options={STATE} onPick={(v) => set("state", v === "every" ? "" : v)} />
      <Select label="Engine" value={value("engine")} options={[{ value: "", text: "Every engine" }, ...names]} onPick={(v) => set("engine", v)} />
      <Select label="Call" value={value("gate")} options={GATE} onPick={(v) => set("gate", v)} />
      <Select label="Cause" value={value("cause")} options={CAUSE} onPick={(v) => set("cause", v)} />
      <Word label="Code" width={90} value={value("code")} onType={(v) => set("code", v)} />
      <Word label="Who has it" width={120} value={value("holder")} onType={(v) => set("holder", v)} />
      <Word label="Opened since" type="date" width={140} value={value("since")} onType={(v) => set("since", v)} />
      <Word label="until" type="date" width={140} value={value("until")} onType={(v) => set("until", v)} />
    </Flex>
  );
}

type WordProps = { label: string; value: string; width: number; type?: string; onType: (value: string) => void };

function Word({ label, value, width, type = "text", onType }: WordProps) {
  return (
    <Labelled label={label}>
      <PlainInput type={type} aria-label={label} width={width} wrong={false} maxLength={60} value={value} onChange={(event) => onType(event.target.value)} />
    </Labelled>
  );
}
