import { client, type Schemas, taken } from "../../api/client";

/** Stores a profile; under a name that exists it becomes its next version. */
export function storeProfile(file: File): Promise<Schemas["EngineSummary"]> {
  const form = new FormData();
  form.append("profile", file);
  return taken(client.POST("/api/engines", { body: { profile: "" }, bodySerializer: () => form }));
}
