/** Saves the drawing in an element as an SVG file that stands by itself: colours and letters written into it. */
export function savePicture(holder: HTMLElement | null, name: string): void {
  const drawn = holder?.querySelector("svg");
  if (!drawn) return;
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  const [seen, written] = [drawn, copy].map((svg) => [...svg.querySelectorAll<SVGElement>("*")]);
  seen?.forEach((element, i) => {
    const { fill, stroke } = getComputedStyle(element);
    written?.[i]?.setAttribute("fill", fill);
    written?.[i]?.setAttribute("stroke", stroke);
  });
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.style.background = getComputedStyle(document.body).backgroundColor;
  copy.style.fontFamily = "sans-serif";
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([new XMLSerializer().serializeToString(copy)], { type: "image/svg+xml" }));
  link.download = `${name}.svg`;
  link.click();
  URL.revokeObjectURL(link.href);
}
