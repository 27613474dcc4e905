/** The keys of the signals: all of them while the plot has the focus, the rulers' also while it is only on screen. */
import type { KeyWords } from "../../app/station";
import type { Keys } from "../../ui";
import type { SignalView } from "./view";

export const SIGNAL_KEYS: readonly KeyWords[] = [
  ["← → ↑ ↓", "Pan and zoom, once the signals are picked"],
  ["F, 7, N, P", "Whole capture, 720° from here, next or previous place"],
  ["C", "One cycle, once the signals are picked"],
  ["A, B, M", "Ruler A or B to the middle, mark at A"],
];

type Rulers = { setRuler: (i: 0 | 1, at: number) => void; mark: () => void };

export function seenKeys(view: SignalView, { setRuler, mark }: Rulers): Keys {
  return {
    a: () => setRuler(0, view.centre),
    b: () => setRuler(1, view.centre),
    m: mark,
    f: view.wholeCapture,
    "7": view.one720,
    n: () => view.jump(1),
    p: () => view.jump(-1),
  };
}

export function pickedKeys(view: SignalView, rulers: Rulers): Keys {
  return {
    ...seenKeys(view, rulers),
    ArrowLeft: () => view.panBy(-0.2),
    ArrowRight: () => view.panBy(0.2),
    ArrowUp: () => view.zoomBy(0.5),
    ArrowDown: () => view.zoomBy(2),
    "+": () => view.zoomBy(0.5),
    "-": () => view.zoomBy(2),
    Home: view.wholeCapture,
    c: view.oneCycle,
  };
}
