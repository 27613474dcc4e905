import { client, madeFrom, type Schemas, taken } from "../../api/client";

/** Stores a profile; under a name that exists it becomes its next version. `from`: the newest one that was seen. */
export function storeProfile(file: File, from: number | null = null): Promise<Schemas["EngineSummary"]> {
  const form = new FormData();
  form.append("profile", file);
  return taken(client.POST("/api/engines", { params: { header: madeFrom(from) }, body: { profile: "" }, bodySerializer: () => form }));
}
