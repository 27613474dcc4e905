/** Sends one capture, telling how much is there. The browser's fetch cannot tell, so this uses the older request. */
import { apiError, type ApiError, type Schemas, unreachable } from "../../api/client";
import type { Pair } from "./pairs";

export type Upload =
  | { status: "sending"; name: string; share: number; cancel: () => void }
  | { status: "reading"; name: string; stage: string; cancel: () => void }
  | { status: "done"; name: string }
  | { status: "cancelled"; name: string }
  | { status: "failed"; name: string; error: ApiError; needsRate: boolean };

const ASK_EVERY_MS = 300;

export function sendCapture(jobId: number, pair: Pair, rateHz: number | null, tell: (upload: Upload) => void): Promise<Schemas["ImportedCapture"] | null> {
  const name = pair.data.name;
  const form = new FormData();
  const token = crypto.randomUUID();
  if (pair.description) form.append("description", pair.description);
  if (rateHz !== null) form.append("interval_s", String(1 / rateHz));
  form.append("token", token);
  form.append("data", pair.data);
  const request = new XMLHttpRequest();
  return new Promise((resolve) => {
    let asking: ReturnType<typeof setInterval> | undefined;
    const finish = (upload: Upload, capture: Schemas["ImportedCapture"] | null) => {
      clearInterval(asking);
      tell(upload);
      resolve(capture);
    };
    const cancel = () => request.abort();
    const stop = () => void fetch(`/api/imports/${token}`, { method: "DELETE" });
    const ask = async () => {
      const answer = await fetch(`/api/imports/${token}`);
      if (!answer.ok) return;
      const { stage } = (await answer.json()) as Schemas["ImportProgress"];
      if (stage !== "done" && request.readyState !== XMLHttpRequest.DONE) tell({ status: "reading", name, stage, cancel: stop });
    };
    tell({ status: "sending", name, share: 0, cancel });
    request.upload.onprogress = (event) => tell({ status: "sending", name, share: event.loaded / event.total, cancel });
    request.upload.onload = () => {
      tell({ status: "reading", name, stage: "reading", cancel: stop });
      asking = setInterval(() => void ask().catch(() => undefined), ASK_EVERY_MS);
    };
    request.onabort = () => finish({ status: "cancelled", name }, null);
    request.onerror = () => finish({ status: "failed", name, error: unreachable(), needsRate: false }, null);
    request.onload = () => {
      const body: unknown = parsed(request.responseText);
      if (request.status === 201) finish({ status: "done", name }, body as Schemas["ImportedCapture"]);
      else {
        const error = apiError(request.status, body);
        if (error.body.what.includes("import was cancelled")) finish({ status: "cancelled", name }, null);
        else finish({ status: "failed", name, error, needsRate: error.body.what.includes("no time column") }, null);
      }
    };
    request.open("POST", `/api/jobs/${jobId}/captures`);
    request.send(form);
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
