/** The typed way to the server. Errors come as one kind, with what the server said a person should read. */
import createClient from "openapi-fetch";

import { apiPath } from "./base";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type ErrorBody = Schemas["ErrorBody"];
/** Somebody has changed the same meanwhile: which entries, and which version is stored now. */
export type Outdated = Pick<Schemas["OutdatedBody"], "changed" | "version">;

export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly body: Required<ErrorBody>,
    readonly outdated: Outdated | null = null,
  ) {
    super(body.what);
  }
}

/** A browser sends no more than 64 KiB for pages that are gone, all together. */
const OUTLIVES_PAGE = 16_000;

/** A change is sent to its end though the page is left meanwhile; files are too large for that. */
export function outlivesPage(init: RequestInit | undefined): RequestInit | undefined {
  const small = typeof init?.body === "string" && init.body.length <= OUTLIVES_PAGE;
  return small || init?.method === "DELETE" ? { ...init, keepalive: true } : init;
}

/** Where somebody practises, jobs are those of the practice file. */
class Placed extends Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? apiPath(input) : input, outlivesPage(init));
  }
}

export const client = createClient<paths>({ baseUrl: "", Request: Placed });

/** Any refusal as an error that can be shown; an unreachable server is one, too. */
export function apiError(status: number, body: unknown): ApiError {
  const known: Partial<ErrorBody & Outdated> = typeof body === "object" && body !== null ? body : {};
  return new ApiError(
    status,
    {
      what: typeof known.what === "string" ? known.what : `The server answered ${String(status)} and nothing else`,
      place: known.place ?? "",
      kept: known.kept ?? "",
      remedy: known.remedy ?? "",
    },
    status === 412 && known.version !== undefined ? { changed: known.changed ?? [], version: known.version } : null,
  );
}

export function unreachable(): ApiError {
  return apiError(0, {
    what: "The workshop's server does not answer",
    kept: "Everything stored is safe",
    remedy: "Check that it runs, then try again.",
  });
}

type Answer<T> = { data?: T | undefined; error?: unknown; response: Response };

/** Sent with a change: the version that it was made from. */
export function madeFrom(version: number | null | undefined): { "if-match": string } | Record<string, never> {
  return version === null || version === undefined ? {} : { "if-match": `"${String(version)}"` };
}

/** The data of an answer with the version that its tag tells, or the error thrown. */
export async function takenTagged<T>(request: Promise<Answer<T>>): Promise<{ data: T; version: number }> {
  let version = 0;
  const data = await taken(
    request.then((answer) => {
      version = Number((answer.response.headers.get("etag") ?? "").replace(/\D/g, ""));
      return answer;
    }),
  );
  return { data, version };
}

/** The data of an answer, or the error thrown. */
export async function taken<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch {
    throw unreachable();
  }
  if (!answer.response.ok) throw apiError(answer.response.status, answer.error);
  return answer.data as T;
}
