/** Copies the first word, picture and text together, so that one paste sends both. */
import { apiPath } from "../../api/base";
import { apiError, client, taken, unreachable } from "../../api/client";

export type Copied = "both" | "text";

/** What could be copied: a browser gives its clipboard only to pages that came over a safe way. */
export async function copyFirstWord(jobId: number): Promise<Copied> {
  const text = taken(client.GET("/api/jobs/{job_id}/first-word", { params: { path: { job_id: jobId } } })).then((found) => found.text);
  if (!("clipboard" in navigator)) throw closed();
  try {
    if (typeof ClipboardItem === "undefined") throw closed();
    // Promises keep the permission that the key press gave, while the server still draws.
    await navigator.clipboard.write([
      new ClipboardItem({
        "image/png": picture(jobId),
        "text/plain": text.then((words) => new Blob([words], { type: "text/plain" })),
      }),
    ]);
    return "both";
  } catch {
    await navigator.clipboard.writeText(await text);
    return "text";
  }
}

async function picture(jobId: number): Promise<Blob> {
  let answer: Response;
  try {
    answer = await fetch(fileAddress(jobId, "png", "first", "A4"));
  } catch {
    throw unreachable();
  }
  if (!answer.ok) throw apiError(answer.status, await answer.json().catch(() => null));
  return answer.blob();
}

function closed() {
  return apiError(0, {
    what: "This browser lets no page copy here",
    kept: "Nothing was copied",
    remedy: "Take the picture and the text below, or open the workshop over https.",
  });
}

/** Where a page is fetched as a file. */
export function fileAddress(jobId: number, form: "pdf" | "html" | "png" | "json", page: string, paper: string): string {
  return apiPath(`/api/jobs/${String(jobId)}/hand-over/file?form=${form}&page=${page}&paper=${paper}`);
}
