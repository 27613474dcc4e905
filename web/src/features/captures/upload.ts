/** Sends one capture, telling how much is there. The browser's fetch cannot tell, so this uses the older request. */
import { apiError, type ApiError, type Schemas, unreachable } from "../../api/client";
import type { Pair } from "./pairs";

export type Upload =
  | { status: "sending"; name: string; share: number; cancel: () => void }
  | { status: "reading"; name: string }
  | { status: "done"; name: string }
  | { status: "cancelled"; name: string }
  | { status: "failed"; name: string; error: ApiError };

export function sendCapture(jobId: number, pair: Pair, tell: (upload: Upload) => void): Promise<Schemas["ImportedCapture"] | null> {
  const name = pair.data.name;
  const form = new FormData();
  form.append("description", pair.description);
  form.append("data", pair.data);
  const request = new XMLHttpRequest();
  return new Promise((resolve) => {
    const finish = (upload: Upload, capture: Schemas["ImportedCapture"] | null) => {
      tell(upload);
      resolve(capture);
    };
    const cancel = () => request.abort();
    tell({ status: "sending", name, share: 0, cancel });
    request.upload.onprogress = (event) =>
      event.loaded < event.total
        ? tell({ status: "sending", name, share: event.loaded / event.total, cancel })
        : tell({ status: "reading", name });
    request.onabort = () => finish({ status: "cancelled", name }, null);
    request.onerror = () => finish({ status: "failed", name, error: unreachable() }, null);
    request.onload = () => {
      const body: unknown = parsed(request.responseText);
      if (request.status === 201) finish({ status: "done", name }, body as Schemas["ImportedCapture"]);
      else finish({ status: "failed", name, error: apiError(request.status, body) }, null);
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
