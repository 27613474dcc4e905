/** A screen on paper is white and fits its width, whatever the screen was: drawings have the width of the screen. */
import { useEffect } from "react";

/** Pixels of a sheet of A4 within its margins, at 96 to the inch: 210 mm less twice 12 mm. */
const SHEET_PX = 703;

export function usePaper(): void {
  useEffect(() => {
    const root = document.documentElement;
    let dark = false;
    const before = () => {
      dark = root.classList.contains("dark");
      if (dark) root.classList.replace("dark", "light");
      const wide = document.querySelector("main")?.scrollWidth ?? SHEET_PX;
      root.style.setProperty("--print-zoom", String(Math.min(1, SHEET_PX / wide)));
    };
    const after = () => {
      if (dark) root.classList.replace("light", "dark");
    };
    window.addEventListener("beforeprint", before);
    window.addEventListener("afterprint", after);
    return () => {
      window.removeEventListener("beforeprint", before);
      window.removeEventListener("afterprint", after);
    };
  }, []);
}
