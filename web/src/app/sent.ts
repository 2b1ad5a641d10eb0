/** What each address under an aircraft takes: a form that sends more is refused, so it must not. */
import type { paths } from "./schema.gen";

type Pattern<S extends string> = S extends `${infer A}{${string}}${infer B}`
  ? `${A}${string}${Pattern<B>}`
  : S;
/** The address under the aircraft's own, as a pattern; the aircraft's own is "". */
type Place<K> = K extends "/api/aircraft/{slug}"
  ? ""
  : K extends `/api/aircraft/{slug}/${infer Rest}`
    ? Pattern<Rest>
    : never;
type Writing = "post" | "put" | "patch" | "delete";
type BodyOf<O> = O extends { requestBody?: { content: { "application/json": infer B } } }
  ? B
  : never;
type Bodies<T> = { [M in Writing]: M extends keyof T ? BodyOf<T[M]> : never }[Writing];
type KeysOf<B> = B extends unknown ? keyof B : never;

/** The names that some form at this address has. */
export type Known<P extends string> = {
  [K in keyof paths]: P extends Place<K> ? KeysOf<Bodies<paths[K]>> : never;
}[keyof paths];

/** A body with no name beyond those. */
export type Sent<P extends string, B> = B & Record<Exclude<keyof B, Known<P>>, never>;
