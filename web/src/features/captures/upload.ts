/** Sends one capture, telling how much is there. The browser's fetch cannot tell, so this uses the older request. */
import { apiPath } from "../../api/base";
import { apiError, type ApiError, type Schemas, unreachable } from "../../api/client";
import type { Pair } from "./pairs";
import { importToken } from "./token";

export type Upload =
  | { status: "sending"; name: string; share: number; cancel: () => void }
  | { status: "reading"; name: string; stage: string; cancel: () => void }
  | { status: "done"; name: string }
  | { status: "cancelled"; name: string }
  | { status: "failed"; name: string; error: ApiError; needsRate: boolean };

const ASK_EVERY_MS = 300;

type Tell = (upload: Upload) => void;

export function sendCapture(jobId: number, pair: Pair, rateHz: number | null, tell: Tell): Promise<Schemas["ImportedCapture"] | null> {
  const form = new FormData();
  const token = importToken();
  if (pair.description) form.append("description", pair.description);
  if (rateHz !== null) form.append("interval_s", String(1 / rateHz));
  form.append("token", token);
  form.append("data", pair.data);
  return sent(apiPath(`/api/jobs/${String(jobId)}/captures`), form, pair.data.name, token, tell);
}

/** A file that lies on the server's disk already. */
export function takeWaiting(jobId: number, name: string, rateHz: number | null, tell: Tell): Promise<Schemas["ImportedCapture"] | null> {
  const token = importToken();
  const body: Schemas["FromInbox"] = { name, token, interval_s: rateHz === null ? null : 1 / rateHz };
  return sent(apiPath(`/api/jobs/${String(jobId)}/inbox`), JSON.stringify(body), name, token, tell);
}

function sent(address: string, body: FormData | string, name: string, token: string, tell: Tell): Promise<Schemas["ImportedCapture"] | null> {
  const request = new XMLHttpRequest();
  return new Promise((resolve) => {
    let asking: ReturnType<typeof setInterval> | undefined;
    const finish = (upload: Upload, capture: Schemas["ImportedCapture"] | null) => {
      clearInterval(asking);
      tell(upload);
      resolve(capture);
    };
    const cancel = () => request.abort();
    // The answer to the import itself may be long in coming: the server gives up at its next step.
    const stop = async () => {
      const answer = await fetch(apiPath(`/api/imports/${token}`), { method: "DELETE" });
      const { stopped } = (await answer.json()) as Schemas["Stopped"];
      if (stopped) request.abort();
    };
    const cancelReading = () =>
      void stop().catch(() => {
        finish({ status: "failed", name, error: unreachable(), needsRate: false }, null);
      });
    const ask = async () => {
      const answer = await fetch(apiPath(`/api/imports/${token}`));
      if (!answer.ok) return;
      const { stage } = (await answer.json()) as Schemas["ImportProgress"];
      if (stage !== "done" && request.readyState !== XMLHttpRequest.DONE) tell({ status: "reading", name, stage, cancel: cancelReading });
    };
    tell({ status: "sending", name, share: 0, cancel });
    request.upload.onprogress = (event) => tell({ status: "sending", name, share: event.loaded / event.total, cancel });
    request.upload.onload = () => {
      tell({ status: "reading", name, stage: "reading", cancel: cancelReading });
      asking = setInterval(() => void ask().catch(() => undefined), ASK_EVERY_MS);
    };
    request.onabort = () => finish({ status: "cancelled", name }, null);
    request.onerror = () => finish({ status: "failed", name, error: unreachable(), needsRate: false }, null);
    request.onload = () => {
      const answer: unknown = parsed(request.responseText);
      if (request.status === 201) finish({ status: "done", name }, answer as Schemas["ImportedCapture"]);
      else {
        const error = apiError(request.status, answer);
        if (error.body.what.includes("import was cancelled")) finish({ status: "cancelled", name }, null);
        else finish({ status: "failed", name, error, needsRate: error.body.what.includes("no time column") }, null);
      }
    };
    request.open("POST", address);
    if (typeof body === "string") request.setRequestHeader("content-type", "application/json");
    request.send(body);
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
