/** The words of the complaint: what is chosen from, in the trade's order. */
import type { Schemas } from "../../api/client";
import { upperFirst } from "../../ui";

type Complaint = Schemas["Complaint"];
export type Symptom = NonNullable<Complaint["symptoms"]>[number];
export type When = NonNullable<Complaint["when"]>[number];
export type Lamp = NonNullable<Complaint["lamp"]>;
export type Code = Schemas["Code"];
export type Status = NonNullable<Code["status"]>;
export type Sorted = NonNullable<Code["sort"]>;
export type Replaced = Schemas["Replaced"];
export type Background = Schemas["Background"];

type Words<T extends string> = readonly { value: T; text: string }[];

export const SYMPTOMS: Words<Symptom> = [
  { value: "no_start", text: "Does not start" },
  { value: "hard_start", text: "Starts badly" },
  { value: "stalls", text: "Stalls" },
  { value: "misfire", text: "Misfires" },
  { value: "rough_idle", text: "Rough idle" },
  { value: "lack_of_power", text: "Lacks power" },
  { value: "rattle", text: "Rattles" },
  { value: "overheated", text: "Was overheated" },
  { value: "none", text: "Nothing wrong" },
];

export const WHEN: Words<When> = [
  { value: "cold", text: "Cold" },
  { value: "hot", text: "Hot" },
  { value: "after_standing", text: "After standing" },
  { value: "idle", text: "Idle" },
  { value: "load", text: "Load" },
  { value: "intermittent", text: "Comes and goes" },
  { value: "after_repair", text: "After a repair" },
];

export const LAMP: Words<Lamp | "unseen"> = [
  { value: "unseen", text: "Not looked at" },
  { value: "off", text: "Off" },
  { value: "on", text: "On" },
  { value: "flashing", text: "Flashing" },
];

export const STATUS: Words<Status> = [
  { value: "current", text: "Current" },
  { value: "pending", text: "Pending" },
  { value: "stored", text: "Stored" },
  { value: "history", text: "History" },
];

export const RETURNED: Words<"untried" | "yes" | "no"> = [
  { value: "untried", text: "Not cleared" },
  { value: "yes", text: "Came back" },
  { value: "no", text: "Stayed away" },
];

export const SORTED: Words<Sorted> = [
  { value: "cause", text: "Cause" },
  { value: "consequence", text: "Consequence" },
  { value: "unrelated", text: "For the owner" },
];

export const PARTS: Words<Replaced["part"]> = [
  { value: "crank_sensor", text: "Crank sensor" },
  { value: "cam_sensor", text: "Cam sensor" },
  { value: "coil", text: "Coil or plugs" },
  { value: "injector", text: "Injector" },
  { value: "fuel_pump", text: "Fuel pump" },
  { value: "drive", text: "Chain or belt, tensioner, guides" },
  { value: "phaser", text: "Phaser" },
  { value: "solenoid", text: "Phaser's solenoid" },
  { value: "cam", text: "Camshaft" },
  { value: "crank_pulley", text: "Crank pulley" },
  { value: "distributor", text: "Distributor" },
  { value: "control_unit", text: "Control unit" },
  { value: "head", text: "Head or its gasket" },
  { value: "wiring", text: "Wiring" },
  { value: "other", text: "Something else" },
];

export const SINCE: Words<NonNullable<Replaced["when"]>> = [
  { value: "before_symptom", text: "Before it began" },
  { value: "after_symptom", text: "After it began" },
  { value: "unknown", text: "Not known" },
];

export const EFFECT: Words<NonNullable<Replaced["effect"]>> = [
  { value: "none", text: "No effect" },
  { value: "changed", text: "Changed" },
  { value: "cured", text: "Cured" },
];

export const EVENTS: Words<Background["what"]> = [
  { value: "accident", text: "Accident" },
  { value: "fire", text: "Fire" },
  { value: "water", text: "Water in it" },
  { value: "wiring_work", text: "Work on the wiring" },
  { value: "bulletin", text: "Bulletin of the maker" },
  { value: "reprogramming", text: "Reprogramming notice" },
  { value: "typical_failure", text: "Typical of this engine" },
  { value: "other", text: "Something else" },
];

export const FAULTS: Words<NonNullable<Background["fault"]>> = [
  { value: "chain_jumped", text: "Chain or belt jumped" },
  { value: "chain_stretched", text: "Chain stretched" },
  { value: "cam_slipped", text: "Cam slipped on its sprocket" },
  { value: "phaser_off_park", text: "Phaser off its park" },
  { value: "cam_signal_shifted", text: "Cam's signal wheel moved" },
  { value: "crank_signal_shifted", text: "Crank's signal wheel moved" },
  { value: "crank_sprocket_slipped", text: "Crank sprocket slipped" },
  { value: "crank_hub_slipped", text: "Crank hub slipped" },
  { value: "drive_broken", text: "Drive broken" },
  { value: "tensioner_slack", text: "Tensioner slack" },
  { value: "sync_misadjusted", text: "Distributor or sync drive clocked wrong" },
  { value: "cam_sensor_fault", text: "Cam sensor" },
  { value: "crank_sensor_fault", text: "Crank sensor" },
  { value: "induced_pulses", text: "Pulses induced by the ignition" },
  { value: "weak_cylinder", text: "Weak cylinder" },
  { value: "valve_train", text: "Valve train of a cylinder" },
  { value: "exhaust_restricted", text: "Exhaust blocked" },
  { value: "intake_restricted", text: "Intake blocked" },
  { value: "ignition_mistimed", text: "Ignition mistimed" },
];

/** What was told of the complaint; empty where nothing was. */
export function complaintOf(told: Schemas["JobDocument"]): Complaint {
  return told.complaint ?? { text: "", since: "" };
}

export function textOf<T extends string>(words: Words<T>, value: T | null | undefined): string {
  return words.find((one) => one.value === value)?.text ?? "";
}

/** The complaint as one sentence: what, when, since when. */
export function complaintSentence(complaint: Complaint | null | undefined): string {
  if (!complaint) return "No complaint noted";
  if (complaint.text) return complaint.text;
  const what = (complaint.symptoms ?? []).map((one) => textOf(SYMPTOMS, one).toLowerCase());
  const when = (complaint.when ?? []).map((one) => textOf(WHEN, one).toLowerCase());
  const said = [what.join(", "), when.length ? `(${when.join(", ")})` : ""].filter(Boolean).join(" ");
  return said ? upperFirst(said) : "No complaint noted";
}

/** A code as it is typed: `P0016`, `p0016 pending`, `P0016 p`. `null` for what is no code. */
export function typedCode(text: string): Code | null {
  const [word = "", ...rest] = text.trim().split(/\s+/);
  const code = word.toUpperCase();
  if (!/^[PCBU][0-3][0-9A-F]{3}(-[0-9A-F]{2})?$/.test(code)) return null;
  const said = rest.join(" ").toLowerCase();
  const status = said ? STATUS.find((one) => one.value.startsWith(said))?.value : undefined;
  return { code, status: status ?? "stored" };
}
