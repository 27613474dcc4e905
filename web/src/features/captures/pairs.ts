/** Which of the files somebody dropped belong together: a description and the data file it names; a data file may come
 * alone. */
export type Pair = { description: File | null; data: File };
export type Pairing = { pairs: Pair[]; problems: string[] };

const DESCRIPTION = ".capture.json";

export async function paired(files: File[]): Promise<Pairing> {
  const described = files.filter((file) => file.name.endsWith(DESCRIPTION));
  const data = new Map(files.filter((file) => !file.name.endsWith(DESCRIPTION)).map((file) => [file.name, file]));
  const pairs: Pair[] = [];
  const problems: string[] = [];
  for (const description of described) {
    const named = (await dataName(description)) ?? description.name.replace(DESCRIPTION, ".csv");
    const file = data.get(named);
    if (file) {
      pairs.push({ description, data: file });
      data.delete(named);
    } else {
      problems.push(`${description.name} describes ${named}, which did not come with it. Drop both together.`);
    }
  }
  for (const file of data.values()) pairs.push({ description: null, data: file });
  return { pairs, problems };
}

async function dataName(description: File): Promise<string | null> {
  try {
    const parsed: unknown = JSON.parse(await description.text());
    const named = typeof parsed === "object" && parsed !== null && "data" in parsed ? parsed.data : null;
    return typeof named === "string" ? named : null;
  } catch {
    return null;
  }
}
