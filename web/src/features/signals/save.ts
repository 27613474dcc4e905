/** The picture on screen as a file. */
import { download, type PictureLane, pngOf, svgOf } from "./picture";
import { computed } from "./picture-lanes";
import { type Span, ticks, timeWords } from "./span";

type Shown = {
  name: string;
  span: Span;
  lanes: PictureLane[];
  width: number;
  height: number;
  /** Pixels of rulers A and B; none where they were never placed. */
  rulers: number[];
  x: (s: number) => number;
};

export async function savePicture(kind: "svg" | "png", shown: Shown): Promise<void> {
  const { name, span, lanes, width, height, x } = shown;
  const svg = svgOf({
    width,
    height,
    paper: computed("paper"),
    text: computed("ink"),
    view: { fromS: span.from, toS: span.to },
    title: `${name}, ${timeWords(span.from, span)} to ${timeWords(span.to, span)} s`,
    lanes,
    rulers: shown.rulers.map((px, i) => ({ name: i ? "B" : "A", x: px })),
    ticks: ticks(span, 8).map((t) => ({ x: x(t), text: timeWords(t, span) })),
  });
  const blob = kind === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await pngOf(svg, width, height);
  download(blob, `${name}.${kind}`);
}
