/** What is on screen as a file: SVG with the bands as paths, PNG from the same. No framework. */
import { bandPath, type Box, type View } from "./draw";
import type { TraceChannel } from "./band";

/** `nameTop`: where the name stands; lanes laid over another have theirs below its. */
export type PictureLane = {
  name: string;
  nameTop: number;
  below: string;
  color: string;
  channel: TraceChannel;
  box: Box;
  y: (v: number) => number;
};
export type PictureRuler = { name: string; x: number };

type Picture = {
  width: number;
  height: number;
  paper: string;
  text: string;
  view: View;
  title: string;
  lanes: PictureLane[];
  rulers: PictureRuler[];
  ticks: { x: number; text: string }[];
};

export function svgOf(picture: Picture): string {
  const { width, height, paper, text } = picture;
  const clip = picture.lanes[0]?.box;
  const lanes = picture.lanes.map(
    (lane) =>
      `<path d="${bandPath(lane.channel, picture.view, lane.box, lane.y)}" fill="none" stroke="${lane.color}" stroke-width="1.2" clip-path="url(#plot)"/>` +
      `<text x="4" y="${String(lane.nameTop)}" fill="${lane.color}" font-weight="600">${escaped(lane.name)}</text>` +
      `<text x="4" y="${String(lane.box.top + 34)}" fill="${text}" font-size="11">${escaped(lane.below)}</text>`,
  );
  const rulers = picture.rulers.map(
    (ruler) =>
      `<line x1="${String(ruler.x)}" x2="${String(ruler.x)}" y1="0" y2="${String(height - 20)}" stroke="${text}"/>` +
      `<text x="${String(ruler.x + 4)}" y="12" fill="${text}">${ruler.name}</text>`,
  );
  const ticks = picture.ticks.map(
    (tick) => `<text x="${String(tick.x)}" y="${String(height - 6)}" fill="${text}" font-size="11" text-anchor="middle">${tick.text}</text>`,
  );
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${String(width)}" height="${String(height)}" font-family="sans-serif" font-size="13">` +
    `<title>${escaped(picture.title)}</title><rect width="100%" height="100%" fill="${paper}"/>` +
    (clip
      ? `<clipPath id="plot"><rect x="${String(clip.left)}" y="0" width="${String(clip.width)}" height="${String(height)}"/></clipPath>`
      : "") +
    `${lanes.join("")}${rulers.join("")}${ticks.join("")}</svg>`
  );
}

export async function pngOf(svg: string, width: number, height: number): Promise<Blob> {
  const image = new Image();
  const loaded = new Promise<void>((resolve, reject) => {
    image.onload = () => resolve();
    image.onerror = () => reject(new Error("The picture could not be drawn"));
  });
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await loaded;
  const canvas = document.createElement("canvas");
  canvas.width = 2 * width;
  canvas.height = 2 * height;
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error("The picture could not be drawn"))), "image/png"),
  );
}

export function download(content: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

function escaped(words: string): string {
  return words.replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c] ?? c);
}
