/** Numbers in fields that may be left empty; a comma is a decimal point too. */
export function textOf(value: number | null | undefined): string {
  return value === null || value === undefined ? "" : String(value);
}

export function numberOf(text: string): number | null {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(value) ? value : null;
}
