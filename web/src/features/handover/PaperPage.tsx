/** A page as it is printed, always white: the server's own HTML in a tree of its own, so that no style of ours reaches it. */
import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";

export function PaperPage({ html, label }: { html: string; label: string }) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const box = host.current;
    if (!box) return;
    const root = box.shadowRoot ?? box.attachShadow({ mode: "open" });
    // Scripts in it would not run: it is parsed apart and the page's policy forbids them.
    const parsed = new DOMParser().parseFromString(html, "text/html");
    const style = document.createElement("style");
    style.textContent = onScreen([...parsed.querySelectorAll("style")].map((one) => one.textContent).join("\n"));
    const page = document.createElement("div");
    page.className = "paper";
    page.append(...parsed.body.childNodes);
    root.replaceChildren(style, page);
  }, [html]);
  return (
    <Box borderWidth="1px" borderColor="line" bg="white" color="black" rounded="sm" overflowX="auto" role="region" aria-label={label} tabIndex={0} data-testid="paper">
      <div ref={host} />
    </Box>
  );
}

/** The sheet of the page for a part of a screen: fonts are ours already, the page's own box becomes the host's. */
function onScreen(sheet: string): string {
  const bare = sheet
    .replace(/@font-face\s*\{[^}]*\}/g, "")
    .replace(/\bhtml\s*\{/g, ":host {")
    .replace(/\bbody\s*\{/g, ".paper {")
    .replaceAll("'Hand-over'", "'Atkinson Hyperlegible Next Variable'");
  return `${bare}\n:host { display: block; font-size: 13px; } .paper { padding: 26px 30px; max-width: 800px; }`;
}
