import { bytesOf, type Answer } from "../../api/bytes";
import { changesOf } from "../../api/changes";
import type { Document, Picture, View } from "../../api/client";
import { keyOf } from "../../api/identity";
import { inColourway } from "../../colourways";
import type { EarlyView } from "../../early";
import { Viewport, type Placement, type Size } from "../../stage/viewport";
import { visible } from "./visible";

/** How a stage fits its picture. */
export const fitting = { margin: 24, most: 1 };

/** What the stage of a bench shows first of a picture, all of it, in the hatch of its first part, and where. */
export function firstView(picture: Pick<Picture, "width" | "height">, document: Document, canvas: Size): { view: View; at: Placement } | undefined {
  const port = new Viewport(() => ({ x: 0, y: 0, ...picture }), { least: 0.01, most: 32, whole: true }, () => undefined);
  port.fit(canvas, fitting.margin * devicePixelRatio, fitting.most);
  const at = visible(port.at, canvas, picture);
  return at && { view: { ...at, show: "hatch", part: document.parts[0]?.id, document }, at: port.at };
}

/** A first view that is on its way: so many pixels, and where they lie on the stage. */
export interface Asked extends EarlyView {
  width: number;
  height: number;
  at: Placement;
}

/** Asks for it, once, where the stage will have the room that it has in a wide window. */
export function askForFirstView(picture: Picture, room: Size): Asked | undefined {
  const e = window.early;
  if (!e || e.view || innerWidth <= 1000 || innerHeight <= 600) return undefined;
  const colourway = new URLSearchParams(location.search).get("colourway");
  const document = inColourway(picture.document, picture.colourways.find((w) => w.id === colourway));
  const first = firstView(picture, document, { width: Math.round(room.width * devicePixelRatio), height: Math.round(room.height * devicePixelRatio) });
  if (!first) return undefined;
  const changes = changesOf(picture.document, document);
  const body = { ...first.view, document: changes ? undefined : document, draft: changes && { base: picture.revision, changes } };
  const leave = new AbortController();
  const answer = bytesOf(`/api/pictures/${picture.id}/view`, body, undefined, leave.signal);
  answer.catch(() => undefined); // whoever takes it hears of it
  e.view = { body, answer, leave };
  setTimeout(() => forget(), 10_000);
  return { ...e.view, width: first.view.width, height: first.view.height, at: first.at };
}

/** Whether it is on its way: then it comes soon, and the stage will have the room that it was asked for. */
export const isOnItsWay = () => window.early?.view !== undefined;

function forget() {
  window.early?.view?.leave.abort();
  if (window.early) window.early.view = undefined;
}

/** Takes the answer to a request for a view that was asked for early; where it is of another, nothing is waited for any more. */
export function askedFirst(picture: string, body: object): Promise<Answer> | undefined {
  const e = window.early;
  if (!e?.view) return undefined;
  const { body: asked, answer } = e.view;
  if (e.id !== picture || keyOf(asked) !== keyOf(body)) {
    forget();
    return undefined;
  }
  e.view = undefined;
  return answer;
}
