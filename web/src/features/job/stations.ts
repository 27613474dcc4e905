/** The route of a job: the stations in the order of work. A new station is one line here and its own folder. */
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

export const STATIONS = ORDER.map((station, i) => ({ ...station, number: i + 1 }));
