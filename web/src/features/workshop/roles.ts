/** What each role may do. No framework. */
import type { Schemas } from "../../api/client";

export type Role = Schemas["PersonRow"]["role"];

export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  lead: "lead: also erases, and says who may come in",
  technician: "technician: sees and changes everything",
  reader: "reader: sees everything, changes nothing",
};

export const ROLES = Object.keys(ROLE_WORDS) as Role[];

/** The day and minute of a stored moment, here where the screen stands. */
export function moment(iso: string): string {
  const at = new Date(iso);
  if (Number.isNaN(at.getTime())) return iso;
  const two = (n: number) => String(n).padStart(2, "0");
  return `${String(at.getFullYear())}-${two(at.getMonth() + 1)}-${two(at.getDate())} ${two(at.getHours())}:${two(at.getMinutes())}`;
}
