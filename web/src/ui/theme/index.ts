/** Colours, type and base styles. Every colour has a light and a dark value; nothing else names a colour. */
import { createSystem, defaultConfig, defineConfig } from "@chakra-ui/react";

const pair = (light: string, dark: string) => ({ value: { _light: light, _dark: dark } });

const FONT = "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif";

const config = defineConfig({
  globalCss: {
    html: { bg: "paper", color: "ink" },
    body: {
      bg: "paper",
      color: "ink",
      fontFamily: FONT,
      fontSize: "15px",
      lineHeight: "1.45",
      fontVariantNumeric: "tabular-nums",
    },
    // One ring everywhere: the components' own rings are thinner, or of another colour.
    "*:focus-visible": { outline: "3px solid {colors.petrol} !important", outlineOffset: "2px !important", boxShadow: "none !important" },
    // The content itself only holds the focus so that the next Tab goes into it: nothing there is pressed.
    "main:focus-visible": { outline: "none !important" },
    // Any screen on paper: its content and the case, without what can only be pressed; what was chosen stays.
    "@page": { margin: "12mm" },
    "[data-frame], main": {
      _print: { display: "block !important", height: "auto !important", maxHeight: "none !important", overflow: "visible !important" },
    },
    // What is only read aloud stands in the content, and must not make the page itself longer than the screen.
    main: { position: "relative", _print: { zoom: "var(--print-zoom, 1)", padding: "0 !important" } },
    "nav, .no-print, .chakra-button:not([aria-pressed=true]), [data-case-bar]": { _print: { display: "none !important" } },
    aside: {
      _print: { width: "auto !important", maxHeight: "none !important", overflow: "visible !important", borderTop: "2px solid {colors.ink}", marginTop: "12px", breakInside: "avoid" },
    },
    ".chakra-button[aria-pressed=true]": { _print: { background: "none !important", color: "{colors.ink} !important" } },
    "[data-case-body]": { _print: { display: "block !important" } },
    "svg, tr, li": { _print: { breakInside: "avoid" } },
    "h1, h2": { _print: { breakAfter: "avoid" } },
    "*, *::before, *::after": {
      _motionReduce: { transitionDuration: "0s !important", animationDuration: "0s !important" },
    },
  },
  theme: {
    tokens: { fonts: { body: { value: FONT }, heading: { value: FONT } } },
    semanticTokens: {
      colors: {
        paper: pair("#F6F4EE", "#14191C"),
        panel: pair("#FFFFFF", "#1B2226"),
        ink: pair("#1E2A31", "#E9E6DC"),
        mute: pair("#55626A", "#9AA6AB"),
        line: pair("#DAD5C8", "#364047"),
        /** Borders of what can be pressed or written into: 3 to 1 on every ground. */
        edge: pair("#7F847E", "#73818A"),
        soft: pair("#ECE8DE", "#232C31"),
        petrol: pair("#0C6069", "#5FC3C4"),
        onPetrol: pair("#FFFFFF", "#0F1517"),
        petrolSoft: pair("#DBE9E8", "#1C3438"),
        late: pair("#8E1F4B", "#FF8FB5"),
        lateSoft: pair("#F5E1EA", "#3A2230"),
        crank: pair("#46535B", "#B8C2C7"),
        intake: pair("#17688F", "#6FB9E6"),
        exhaust: pair("#A8501F", "#EE9A63"),
        current: pair("#7A6200", "#D9BE5A"),
        pressure: pair("#5B4A94", "#B9A6F2"),
        coil: pair("#3F6B3A", "#9CCB8F"),
      },
    },
  },
});

export const system = createSystem(defaultConfig, config);

/** The CSS variable of a colour token, for SVG attributes. */
export function ink(token: string): string {
  return `var(--chakra-colors-${token.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)})`;
}
