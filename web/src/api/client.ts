import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";
import * as words from "../words/api";

type Schemas = components["schemas"];
export type Picture = Schemas["Picture"];
export type Document = Schemas["Document"];
export type Part = Schemas["Part"];
export type Pick = Schemas["Pick"];
export type Stroke = Schemas["Stroke"];
export type Grey = Schemas["Grey"];
export type Pattern = Schemas["Pattern"];
export type Tile = Schemas["Tile"];
export type TileStroke = Schemas["TileStroke"];
export type PatternLay = Schemas["PatternLay"];
export type Shelved = Schemas["Shelved"];
export type Copy = Schemas["Copy"];
export type Shadow = Schemas["Shadow"];
export type Patch = Schemas["Patch"];
export type FoundCover = Schemas["FoundCover"];
export type Recipe = Schemas["Recipe"];
export type Swatch = Schemas["Swatch"];
export type PartProof = Schemas["PartProof"];
export type Proof = Schemas["Proof"];
export type Probe = Schemas["Probe"];
export type Delivery = Schemas["Delivery"];
export type Job = Schemas["Job"];
export type Colour = Schemas["Colour"];
export type Settings = Schemas["Settings"];
export type Close = Schemas["Close"];
export type Finish = Schemas["Finish"];
export type Colourway = Schemas["Colourway"];
export type PictureSummary = Schemas["PictureSummary"];
export type Cell = Schemas["Cell"];
export type Order = Schemas["Order"];
export type Mend = Schemas["Mend"];
export type Cast = Schemas["Cast"];
export type Rebuild = Schemas["Rebuild"];
export type Target = Schemas["Target"];
export type Curves = Schemas["Curves"];
export type Edge = Schemas["Edge"];
export type Areas = Schemas["Areas"];
export type View = Schemas["View"];
export type Drawing = Schemas["Drawing"];
export type ShownDrawing = Schemas["ShownDrawing"];
export type ShownMember = Schemas["ShownMember"];
export type FamilyColours = Schemas["FamilyColours"];
export type Family = Schemas["Family"];
export type Change = Schemas["Change"];
export type Stored = Schemas["Stored"];

export const api = createClient<paths>({ baseUrl: "/" });

/** An answer that says what went wrong and how to mend it. */
export class Problem extends Error {
  constructor(
    message: string,
    readonly requestId: string,
    readonly status: number,
  ) {
    super(message);
  }
}

/** Gives the data of an answer, or throws its Problem. */
export async function unwrap<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call;
  if (data !== undefined && response.ok) return data;
  throw problemOf(error, response.status);
}

export function problemOf(error: unknown, status: number): Problem {
  const e = error as { message?: string; request_id?: string } | undefined;
  return new Problem(e?.message ?? words.theServerAnswered(status), e?.request_id ?? "", status);
}

/** What to tell somebody about any failure. */
export function explain(e: unknown): string {
  if (e instanceof Problem) return e.message;
  if (e instanceof TypeError || (e instanceof DOMException && e.name === "TimeoutError")) return words.theServerDoesNotAnswer;
  return e instanceof Error ? e.message : String(e);
}

/** Calls until the server answers, waiting longer each time, and says so meanwhile. What is lost on the way is sent again. */
export async function untilAnswered<T>(say: (problem?: string) => void, call: () => Promise<T>): Promise<T> {
  for (let wait = 500; ; wait = Math.min(2 * wait, 8000)) {
    try {
      return await call();
    } catch (e) {
      if (!(e instanceof TypeError) && !(e instanceof Problem && e.status === 503)) throw e;
      say(explain(e));
    }
    await new Promise((r) => setTimeout(r, wait));
  }
}
