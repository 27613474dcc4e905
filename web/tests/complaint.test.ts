import { expect, test } from "vitest";

import { joined } from "../src/features/complaint/CodeList";
import { complaintSentence, typedCode } from "../src/features/complaint/words";

test("a code is typed with or without its status, in any case", () => {
  expect(typedCode("p0016")).toEqual({ code: "P0016", status: "stored" });
  expect(typedCode(" P0335  pend ")).toEqual({ code: "P0335", status: "pending" });
  expect(typedCode("U0100-2A c")).toEqual({ code: "U0100-2A", status: "current" });
  for (const wrong of ["", "P016", "X0016", "P4016", "P00166"]) expect(typedCode(wrong)).toBeNull();
});

test("what was said of an older code stays when it is read again", () => {
  const before = [{ code: "P0016", status: "stored" as const, sort: "cause" as const, returned: true }];
  const after = joined(before, [
    { code: "p0016", status: "pending" },
    { code: "P0300", status: "stored" },
  ]);
  expect(after).toHaveLength(2);
  expect(after[0]).toMatchObject({ status: "pending", sort: "cause", returned: true });
});

test("the complaint is a sentence even where nobody wrote one", () => {
  expect(complaintSentence(null)).toBe("No complaint noted");
  expect(complaintSentence({ text: "Dies hot", since: "" })).toBe("Dies hot");
  expect(complaintSentence({ text: "", since: "", symptoms: ["stalls", "no_start"], when: ["hot"] })).toBe("Stalls, does not start (hot)");
});
