import type { Document, Picture, View } from "../../api/client";
import { bytesOf, type Answer } from "../../api/bytes";
import { brought, nowStored } from "../../api/draft";
import { keyOf } from "../../api/identity";
import { inColourway } from "../../colourways";
import { Viewport, type Size } from "../../stage/viewport";
import { line } from "./line";
import { visible } from "./stageLayer";

/** How a stage fits its picture. */
export const fitting = { margin: 24, most: 1 };

/** Asked for before there is a stage; what a stage asks for instead ends it. */
let first: { picture: string; key: string; answer: Promise<Answer>; leave: AbortController } | undefined;

/** What the stage of a bench shows first of a picture: all of it, in the hatch of its first part. */
export function firstView(picture: Picture, document: Document, canvas: Size): View | undefined {
  const port = new Viewport(() => ({ x: 0, y: 0, ...picture }), { least: 0.01, most: 32, whole: true }, () => undefined);
  port.fit(canvas, fitting.margin * devicePixelRatio, fitting.most);
  const at = visible(port.at, canvas, picture);
  return at && { ...at, show: "hatch", part: document.parts[0]?.id, document };
}

/** Asks for it, where the stage will have the room that it has in a wide window, and the line is quick. */
export function askForFirstView(picture: Picture, room: Size) {
  if (innerWidth <= 1000 || innerHeight <= 600 || line().slow || first) return;
  const colourway = new URLSearchParams(location.search).get("colourway");
  const document = inColourway(picture.document, picture.colourways.find((w) => w.id === colourway));
  const view = firstView(picture, document, { width: Math.round(room.width * devicePixelRatio), height: Math.round(room.height * devicePixelRatio) });
  if (!view) return;
  nowStored(picture.id, picture.revision, picture.document);
  const body = { ...view, document: undefined, ...brought(picture.id, document) };
  const leave = new AbortController();
  const answer = bytesOf(`/api/pictures/${picture.id}/view`, body, undefined, leave.signal);
  answer.catch(() => undefined); // whoever takes it hears of it
  first = { picture: picture.id, key: keyOf(body), answer, leave };
  setTimeout(() => forget(), 10_000);
}

/** Whether it is on its way: then it comes soon, and the stage will have the room that it was asked for. */
export const isOnItsWay = () => first !== undefined;

function forget() {
  first?.leave.abort();
  first = undefined;
}

/** Takes the answer to a request for a view that was asked for early; where it is of another, nothing is waited for any more. */
export function askedFirst(picture: string, body: object): Promise<Answer> | undefined {
  if (!first) return undefined;
  const f = first;
  if (f.picture !== picture || f.key !== keyOf(body)) {
    forget();
    return undefined;
  }
  first = undefined;
  return f.answer;
}
