/** What the browser does without where a page came over plain http, and what a person is told of what was thrown. */
import { describe, expect, it, vi } from "vitest";

import { ApiError } from "../src/api/client";
import { told } from "../src/app/Unseen";
import { importToken } from "../src/features/captures/token";

describe("the name of an import", () => {
  it("needs random bytes only", () => {
    vi.stubGlobal("crypto", { getRandomValues: (bytes: Uint8Array) => bytes.fill(171) });
    expect(importToken()).toBe("ab".repeat(16));
    vi.unstubAllGlobals();
  });

  it("is another one every time", () => {
    expect(importToken()).not.toBe(importToken());
    expect(importToken()).toMatch(/^[0-9a-f]{32}$/);
  });
});

describe("what was thrown and caught nowhere", () => {
  it("is told with where things stand", () => {
    expect(told(new Error("no such port"), "").message).toContain("no such port");
    expect(told("a string", "Something failed").message).toContain("Something failed");
    expect(told(undefined, "Something failed").message).toContain("What is stored is safe");
  });

  it("leaves the server's own words as they are", () => {
    const said = new ApiError(409, { what: "The job changed", place: "", kept: "", remedy: "" });
    expect(told(said, "")).toBe(said);
  });
});
