import { describe, expect, it } from "vitest";

import { countWords, nextAnswer, notedAbout } from "../src/features/look/walk";

const question = {
  id: "oil",
  title: "Oil",
  how: "",
  group: "look",
  answers: [
    { id: "good", title: "Good" },
    { id: "low", title: "Low" },
    { id: "sludged", title: "Sludged" },
  ],
  per_cylinder: false,
  per_cam: false,
  unit: null,
  most: null,
  caution: "",
};

const noted = (answer: string, cylinder: number | null = null) => ({
  id: 1,
  question: "oil",
  title: "Oil",
  answer,
  answer_id: answer,
  cylinder,
  value: null,
  cam: null,
  amount_deg: null,
  crank_at: "mark" as const,
  weight: "",
  note: "",
});

describe("walking through the answers", () => {
  it("begins with the first going right, with the last going left", () => {
    expect(nextAnswer(question, undefined, 1)).toBe("good");
    expect(nextAnswer(question, undefined, -1)).toBe("sludged");
  });

  it("goes one further and stops at the ends", () => {
    expect(nextAnswer(question, noted("good"), 1)).toBe("low");
    expect(nextAnswer(question, noted("sludged"), 1)).toBe("sludged");
    expect(nextAnswer(question, noted("good"), -1)).toBe("good");
  });

  it("has nothing to give where there are no answers", () => {
    expect(nextAnswer({ ...question, answers: [] }, undefined, 1)).toBeNull();
  });
});

describe("what was noted", () => {
  it("is told apart by cylinder", () => {
    const all = [noted("good"), noted("low", 3)];
    expect(notedAbout(all, question, 3)?.answer).toBe("low");
    expect(notedAbout(all, question, null)?.answer).toBe("good");
    expect(notedAbout(all, question, 2)).toBeUndefined();
  });

  it("counts each question once", () => {
    expect(countWords([question], [])).toBe("Nothing noted yet");
    expect(countWords([question, { ...question, id: "rattle" }], [noted("good", 1), noted("low", 2)])).toBe("1 of 2 looked at");
  });
});
