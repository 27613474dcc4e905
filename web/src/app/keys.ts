/** The list of keys: those that work everywhere, those of the lists, and each station's own. */
import { STATIONS } from "../features/job";
import { SIGNAL_KEYS } from "../features/signals";
import type { KeyGroup } from "../ui";

export const KEY_GROUPS: readonly KeyGroup[] = [
  {
    where: "Everywhere",
    keys: [
      ["B", "Bay board"],
      ["J", "Logbook: every job, found by words"],
      ["G", "Engines"],
      ["W", "Workshop: people, what was taken out, who did what"],
      ["F", "Fleet: what the captures of many cars say together"],
      ["Y", "Practice: learn it on cars with a hidden fault"],
      [",", "Settings: units, light, keys, limit and costs of new jobs"],
      ["D", "Under-bonnet mode or daylight"],
      ["Q", "Words of the trade, each with a drawing"],
      ["?", "This list"],
    ],
  },
  {
    where: "Bay board and Engines",
    keys: [
      ["N", "New job, new engine"],
      ["↑ ↓ Enter", "Pick and open"],
    ],
  },
  {
    where: "Fleet",
    keys: [
      ["↑ ↓", "Kind of engine"],
      ["← →", "Cam"],
      ["A", "Over distance or age"],
    ],
  },
  {
    where: "Logbook",
    keys: [
      ["/", "Search"],
      ["↑ ↓ Enter", "Pick and open"],
    ],
  },
  {
    where: "In a job",
    keys: [
      [`1 – ${String(STATIONS.length)}`, "Go to that station"],
      ["C", "Open or fold the case"],
    ],
  },
  ...STATIONS.filter((s) => s.keys.length).map((s) => ({ where: `${String(s.number)} ${s.name}`, keys: s.keys })),
  { where: "Signals", keys: SIGNAL_KEYS },
  {
    where: "Practice",
    keys: [
      ["N", "Take the next car of the class"],
      ["F", "Free bench: turn at any fault and see every lead"],
      ["Escape", "From the free bench back to practice"],
    ],
  },
];
