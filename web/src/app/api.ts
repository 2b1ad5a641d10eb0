/** The API client: typed from the schema, with security token, write keys and plain problems. */
import createClient from "openapi-fetch";

import type { paths } from "./schema.gen";

export type FieldError = { field: string; reason: string };

/** A problem as the server (or the lost connection) tells it. Status 0: no answer at all. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly errors: FieldError[] = [],
    readonly theirs: unknown = null,
  ) {
    super(title);
  }
  /** From an answer's text, whatever it holds. */
  static of(status: number, text: string): Problem {
    try {
      return problemOf(status, JSON.parse(text));
    } catch {
      return problemOf(status, null);
    }
  }
  /** Why one field was refused, if it was. */
  reason(field: string): string | undefined {
    return this.errors.find((e) => e.field === field)?.reason;
  }
}

let token = "";
export const setToken = (csrf: string): void => {
  token = csrf;
};

export const tokenNow = (): string => token;

/** A key for one write: sent again after a lost answer, it is still kept once. */
export const newKey = (): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) =>
    b.toString(16).padStart(2, "0"),
  ).join("");

async function answered(request: () => Promise<Response>): Promise<Response> {
  let response: Response;
  try {
    response = await request();
  } catch {
    throw new Problem(0, "No connection. What you typed is kept here; send it again later.");
  }
  if (response.ok) return response;
  const body: unknown = await response
    .clone()
    .json()
    .catch(() => null);
  throw problemOf(response.status, body);
}

function problemOf(status: number, body: unknown): Problem {
  if (typeof body !== "object" || body === null)
    return new Problem(status, `The server failed (${status}). What you typed is kept here.`);
  const said = body as { title?: string; errors?: FieldError[]; theirs?: unknown };
  return new Problem(status, said.title ?? `Refused (${status})`, said.errors, said.theirs);
}

/** fetch with token and key; throws Problem on anything that is not an answer. */
export const send: typeof fetch = (input, init) => {
  const request = new Request(input, init);
  if (request.method !== "GET") {
    request.headers.set("X-CSRFToken", token);
    if (!request.headers.has("Idempotency-Key")) request.headers.set("Idempotency-Key", newKey());
  }
  return answered(() => fetch(request));
};

export const api = createClient<paths>({ fetch: send });

/** Unwrap an answer; send() has thrown already if there was none. */
export async function got<T>(answer: Promise<{ data?: T }>): Promise<T> {
  const { data } = await answer;
  if (data === undefined) throw new Problem(0, "The server answered nothing.");
  return data;
}

type Json<R> = R extends { content: { "application/json": infer T } } ? T : never;
type Responses<O> = O extends { responses: infer R } ? R : never;
type Ok<R> = R extends { 200: infer A } ? A : R extends { 201: infer A } ? A : never;

/** What a GET of this address answers. */
export type Answer<P extends keyof paths> = Json<Ok<Responses<paths[P]["get"]>>>;
/** What a POST to this address answers. */
export type Posted<P extends keyof paths> = Json<Ok<Responses<paths[P]["post"]>>>;

export type Session = Answer<"/api/session">;
export type AircraftList = Answer<"/api/aircraft">;
export type Aircraft = Answer<"/api/aircraft/{slug}">;
export type Bay = Aircraft["bays"][number];
export type Sheet = Answer<"/api/aircraft/{slug}/controls/{control}">;
export type Requirement = Sheet["requirements"][number];
export type Result = Requirement["result"];
export type ReadingSet = Result["sets"][number];
export type Surface = Sheet["surfaces"][number];
export type Reading = Sheet["readings"][number];
export type ControlRow = Answer<"/api/aircraft/{slug}/controls">["results"][number];
export type Instrument = Answer<"/api/aircraft/{slug}/instruments">["results"][number];
export type People = Answer<"/api/aircraft/{slug}/people">;
export type SignState = Answer<"/api/aircraft/{slug}/signatures/{scope}">;
export type Entry = SignState["entries"][number];
export type Ledger = Answer<"/api/aircraft/{slug}/ledger">;
export type Checked = Posted<"/api/aircraft/{slug}/ledger/check">;
export type RuleList = Answer<"/api/rules">;
export type Rule = Answer<"/api/rules/{rule}">;
export type Preview = Posted<"/api/aircraft/{slug}/controls/{control}/assess">;
export type Linkage = Answer<"/api/aircraft/{slug}/controls/{control}/linkage">;
export type Solved = NonNullable<Linkage["solved"]>;
export type RodState = Linkage["rods"][number];
export type Variant = Linkage["variants"][number];
export type Advice = Posted<"/api/aircraft/{slug}/controls/{control}/linkage/advice">;
export type WhatIf = Posted<"/api/aircraft/{slug}/controls/{control}/linkage/assess">;
export type Play = Posted<"/api/aircraft/{slug}/controls/{control}/linkage/play">;
export type PartCheck =
  Answer<"/api/aircraft/{slug}/controls/{control}/part-checks">["results"][number];
export type Cables = Answer<"/api/aircraft/{slug}/controls/{control}/cables">;
export type CableLoop = NonNullable<Cables["solved"]>;
export type Shift =
  Posted<"/api/aircraft/{slug}/controls/{control}/cables/assess">["shifts"][number];
export type CheckShown = Cables["checks"][number];
export type CableSide = Cables["sides"][number];
export type TensionToday = Posted<"/api/aircraft/{slug}/controls/{control}/cables/today">;
export type CableTried = Posted<"/api/aircraft/{slug}/controls/{control}/cables/try">;
export type Heard = Posted<"/api/aircraft/{slug}/controls/{control}/cables/hear">;
export type Closure = Aircraft["closures"][number];
export type Lane = Answer<"/api/aircraft/{slug}/lane">;
export type ClosingRow = Lane["closings"][number];
export type GateItem = ClosingRow["first"][number];
export type ClosureDetail = Answer<"/api/aircraft/{slug}/closures/{closure}">;
export type LineRow = Answer<"/api/aircraft/{slug}/lines">["results"][number];
export type Line = Answer<"/api/aircraft/{slug}/lines/{line}">;
export type SheetsPage = Answer<"/api/aircraft/{slug}/worksheets">;
export type SheetKind = SheetsPage["kinds"][number];
export type SheetField = SheetKind["fields"][number];
export type SheetColumn = SheetField["columns"][number];
export type SheetRow = SheetsPage["results"][number];
export type Worksheet = Answer<"/api/aircraft/{slug}/worksheets/{sheet}">;
export type SheetWorked = Worksheet["worked"];
export type HarnessPage = Answer<"/api/aircraft/{slug}/harness">;
export type HarnessSection = Answer<"/api/aircraft/{slug}/harness/section">;
export type HarnessRow = HarnessPage["results"][number];
export type WeightPage = Answer<"/api/aircraft/{slug}/weight">;
export type WeightRow = WeightPage["results"][number];
export type WeightKind = WeightPage["kinds"][number];
export type ClearancePage = Answer<"/api/aircraft/{slug}/clearance">;
export type ClearanceRow = ClearancePage["results"][number];
export type ClearancePair = ClearancePage["pairs"][number];
export type ClearanceThing = ClearancePage["things"][number];
export type ClearanceFilm = Answer<"/api/aircraft/{slug}/clearance/film">;
export type ClearanceMoved = Posted<"/api/aircraft/{slug}/clearance/move">;
export type BendCard = Line["card"];
export type Leak = Posted<"/api/aircraft/{slug}/leak-trial">;
export type JointRow = Answer<"/api/aircraft/{slug}/joints">["results"][number];
export type Joint = Answer<"/api/aircraft/{slug}/joints/{joint}">;
export type StockItem = Stock["results"][number];
export type Tin = Stock["compounds"][number];
export type Stock = Answer<"/api/aircraft/{slug}/stock">;
export type LooseEnd = Answer<"/api/aircraft/{slug}/loose-ends">["results"][number];
export type Photo = Answer<"/api/aircraft/{slug}/photos">["results"][number];
export type Documents = Answer<"/api/aircraft/{slug}/documents">;
export type ConflictGroup = Documents["groups"][number];
export type Statement = Documents["statements"][number];
export type Directive = Documents["directives"][number];
export type Computed = Posted<"/api/aircraft/{slug}/bolt-choice">;
export type EntryPreview = Posted<"/api/aircraft/{slug}/entry">;
export type Verdict = Result["verdict"];
