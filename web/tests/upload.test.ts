/** An import that is cancelled while the server reads it: said at once, and only where the server could still stop. */
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { sendCapture, type Upload } from "../src/features/captures/upload";

/** A request that never answers by itself: the server goes on reading. */
class Reading {
  static DONE = 4;
  static last: Reading;
  readyState = 1;
  status = 0;
  responseText = "";
  upload: { onload?: () => void; onprogress?: () => void } = {};
  onabort = () => undefined;
  onerror = () => undefined;
  onload = () => undefined;
  constructor() {
    Reading.last = this;
  }
  open() {}
  setRequestHeader() {}
  send() {
    queueMicrotask(() => this.upload.onload?.());
  }
  abort() {
    this.onabort();
  }
}

const answers = (body: unknown) => vi.fn(() => Promise.resolve({ ok: true, json: () => Promise.resolve(body) }));

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("XMLHttpRequest", Reading);
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

async function cancelled(stopped: boolean): Promise<Upload[]> {
  const told: Upload[] = [];
  vi.stubGlobal("fetch", answers({ stopped }));
  void sendCapture(7, { description: null, data: new File(["t,a"], "a.csv") }, null, (upload) => told.push(upload));
  await vi.advanceTimersByTimeAsync(10);
  const now = told.at(-1);
  expect(now?.status).toBe("reading");
  if (now?.status === "reading") now.cancel();
  await vi.advanceTimersByTimeAsync(10);
  return told;
}

it("says at once that it was cancelled, though the request was not answered yet", async () => {
  const told = await cancelled(true);
  expect(told.at(-1)?.status).toBe("cancelled");
  expect(fetch).toHaveBeenCalledWith(expect.stringMatching(/^\/api\/imports\/[0-9a-f]{32}$/), { method: "DELETE" });
});

it("waits for the answer where the capture was kept already", async () => {
  const told = await cancelled(false);
  expect(told.at(-1)?.status).toBe("reading");
  Reading.last.status = 201;
  Reading.last.responseText = "{}";
  Reading.last.onload();
  expect(told.at(-1)?.status).toBe("done");
});
