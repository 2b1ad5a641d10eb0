/** A server for one test: it notes what is asked, and each answer is given by hand. */
import { vi } from "vitest";

export type Asked = { path: string; method: string; key: string; token: string; body: unknown };
export type Answering = (asked: Asked) => unknown;

/** An answer that is not an ordinary one. */
export class Status {
  constructor(
    readonly status: number,
    readonly body: unknown,
  ) {}
}

/** The line is dead. */
export const LOST = new Error("no line");

/** Answers whatever is asked by `answer`; all that was asked stands in the list. */
export function serve(answer: Answering): Asked[] {
  const asked: Asked[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const text = await request.clone().text();
    const one = {
      path: new URL(request.url).pathname,
      method: request.method,
      key: request.headers.get("Idempotency-Key") ?? "",
      token: request.headers.get("X-CSRFToken") ?? "",
      body: text ? (JSON.parse(text) as unknown) : null,
    };
    asked.push(one);
    const said = await answer(one);
    if (said === LOST) throw LOST;
    const { status, body } = said instanceof Status ? said : new Status(200, said);
    return Response.json(body, { status });
  });
  return asked;
}

/** A promise with its ends outside. */
export function promised<T>() {
  let keep!: (value: T) => void;
  let fail!: (why: unknown) => void;
  const promise = new Promise<T>((yes, no) => {
    keep = yes;
    fail = no;
  });
  return { promise, keep, fail };
}
