/** Fields of the document as the form names them. */
const WORDS: Record<string, string> = {
  "crank.wheel": "The crank wheel",
  "crank.wheel.slots": "Slots of the crank wheel",
  "crank.wheel.missing": "Missing slots",
  "crank.wheel.teeth_deg": "Teeth of the crank wheel",
  "crank.index_deg": "Where tooth 1 passes",
  "crank.index_u95_deg": "How well tooth 1 is known",
  "crank.tooth_deg": "Tooth width",
  "crank.sensor": "Crank sensor",
  "crank.timing_edge": "Accurate edge",
  cams: "The cams",
  "learnt.known_good": "How the car it was learnt from was known to be good",
  banks: "The cylinders of each bank",
  "drive.crank_sprocket_teeth": "Teeth of the crank sprocket",
  "drive.free_links": "Free links to each cam",
  interference: "Whether valves can meet pistons",
  "valve_clearance_deg.exhaust_late": "How late the exhaust cam may be before valves meet pistons",
  "valve_clearance_deg.intake_early": "How early the intake cam may be before valves meet pistons",
  typical_failures: "What this type is known for",
  layout: "The layout",
  geometry: "Bore, stroke and rod",
  valve_timing: "Valve timing",
  ignition: "The ignition",
  cranking_pressure_bar: "Cranking pressure",
  displacement_l: "Displacement",
  firing_order: "Firing order",
  firing_angles_deg: "Firing angles",
  cylinders: "Cylinders",
};

const CAM_WORDS: Record<string, string> = {
  edges: "Edges",
  edges_u95_deg: "How well the edges are known",
  tolerance_deg: "Tolerance",
  bank: "Bank",
  shaft: "Shaft",
  sensor: "Sensor",
};

export function fieldWords(field: string): string {
  const cam = /^(?:cams|aux_wheels)\[(.+?)\]\.(.+)$/.exec(field);
  if (cam) return `${CAM_WORDS[cam[2] ?? ""] ?? cam[2] ?? ""} of ${cam[1] ?? ""}`;
  return WORDS[field] ?? field.replace(/_/g, " ").replace(/\./g, ", ");
}
