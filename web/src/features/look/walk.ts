/** Walking through the list of questions and their answers by arrow keys. */
import type { Schemas } from "../../api/client";

type Question = Schemas["QuestionOut"];
type Noted = Schemas["NotedLook"];

/** The answer `step` further than the one that was noted; from none, the first or the last. */
export function nextAnswer(question: Question, noted: Noted | undefined, step: 1 | -1): string | null {
  const ids = question.answers.map((answer) => answer.id);
  const at = noted?.answer_id ? ids.indexOf(noted.answer_id) : -1;
  if (at < 0) return (step > 0 ? ids[0] : ids.at(-1)) ?? null;
  return ids[Math.min(Math.max(at + step, 0), ids.length - 1)] ?? null;
}

/** What was noted about a question, and a cylinder where it asks for one. */
export function notedAbout(noted: Noted[], question: Question, cylinder: number | null): Noted | undefined {
  return noted.find((look) => look.question === question.id && look.cylinder === cylinder);
}

/** How many of the things to look at were noted. */
export function countWords(questions: Question[], noted: Noted[]): string {
  const done = new Set(noted.map((look) => look.question)).size;
  return done === 0 ? "Nothing noted yet" : `${String(done)} of ${String(questions.length)} looked at`;
}
