/** A name for one import, by which its progress is asked. `crypto.randomUUID` is missing where the page came over plain
 * http from another machine; random bytes are always there. */
export function importToken(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
