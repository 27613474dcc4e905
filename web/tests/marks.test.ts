import { describe, expect, it } from "vitest";

import { client, outlivesPage } from "../src/api/client";
import { named, without, withMark } from "../src/features/import/marks";

const HERE = { t_s: 0.5, text: "" };
const THERE = { t_s: 0.9, text: "stumble" };

describe("marks of a capture", () => {
  it("gives words to the one that was named, among others that came meanwhile", () => {
    expect(named(HERE, "cough")([{ t_s: 0.1, text: "start" }, HERE, THERE])).toEqual([
      { t_s: 0.1, text: "start" },
      { t_s: 0.5, text: "cough" },
      THERE,
    ]);
  });

  it("does not make two of one whose words have changed, and brings back one that is gone", () => {
    expect(named(HERE, "cough")([{ t_s: 0.5, text: "hick" }])).toEqual([{ t_s: 0.5, text: "cough" }]);
    expect(named(HERE, "cough")([THERE])).toEqual([THERE, { t_s: 0.5, text: "cough" }]);
  });

  it("marks a moment once", () => {
    expect(withMark(0.5)([THERE])).toEqual([THERE, HERE]);
    expect(withMark(0.9)([THERE])).toEqual([THERE]);
  });

  it("takes out one of two at the same moment, the right one, and one whose words have just been typed", () => {
    expect(without(HERE)([{ t_s: 0.5, text: "hick" }, HERE, THERE])).toEqual([{ t_s: 0.5, text: "hick" }, THERE]);
    expect(without(HERE)([{ t_s: 0.5, text: "hick" }, THERE])).toEqual([THERE]);
    expect(without(HERE)([THERE])).toEqual([THERE]);
  });
});

type How = { baseUrl: string; fetch: (request: Request) => Promise<Response> };

/** What goes out: one request. */
async function sentBy(change: (how: How) => Promise<unknown>): Promise<Request> {
  const sent: Request[] = [];
  const fetch = (request: Request) => {
    sent.push(request);
    return Promise.resolve(Response.json({ marks: [] }));
  };
  await change({ baseUrl: "http://127.0.0.1", fetch });
  const [first] = sent;
  if (!first) throw new Error("nothing was sent");
  return first;
}

describe("a change that was sent", () => {
  it("goes out as one that outlives its page, and a look does not", async () => {
    const params = { path: { capture_id: 7 } };
    const change = await sentBy((how) => client.PUT("/api/captures/{capture_id}/marks", { params, body: { marks: [HERE] }, ...how }));
    expect([change.method, change.keepalive, await change.json()]).toEqual(["PUT", true, { marks: [HERE] }]);
    const look = await sentBy((how) => client.GET("/api/captures/{capture_id}/sheet", { params, ...how }));
    expect([look.method, look.keepalive]).toEqual(["GET", false]);
  });

  it("is sent to its end though the page is left, unless it is too large for that", () => {
    expect(outlivesPage({ method: "PUT", body: "{}" })?.keepalive).toBe(true);
    expect(outlivesPage({ method: "DELETE" })?.keepalive).toBe(true);
    expect(outlivesPage({ method: "PUT", body: "x".repeat(70_000) })?.keepalive).toBeUndefined();
    expect(outlivesPage({ method: "POST", body: new FormData() })?.keepalive).toBeUndefined();
    expect(outlivesPage({ method: "GET" })?.keepalive).toBeUndefined();
  });
});
