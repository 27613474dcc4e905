/** The route of a job: the stations in the order of work. A new station is one line here and its own folder. */
import { PRACTISING } from "../../api/base";
import type { Station } from "../../app/station";
import { callStation } from "../call";
import { capturesStation } from "../captures";
import { sealStation } from "../compression";
import { cylinderStation } from "../cylinder";
import { hookUpStation } from "../hookup";
import { lookStation } from "../look";
import { phaseStation } from "../phase";
import { complaintStation } from "../complaint";
import { handOverStation } from "../handover";

const ORDER: readonly Station[] = [
  complaintStation,
  lookStation,
  hookUpStation,
  capturesStation,
  sealStation,
  phaseStation,
  cylinderStation,
  callStation,
  handOverStation,
];

/** Nothing is handed over of a practice car. */
const SHOWN = PRACTISING ? ORDER.filter((station) => station.id !== "hand-over") : ORDER;

export const STATIONS = SHOWN.map((station, i) => ({ ...station, number: i + 1 }));
