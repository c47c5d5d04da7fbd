/** What a server answered, as it came. */
export interface Answer {
  response: Response;
  bytes: ArrayBuffer;
}

/**
 * Asks for bytes. They are put into spare, which is of no use afterwards, where that is as long as they are: a view's 2 MB come in half of the
 * time that the browser takes to put pieces together in memory it has to ask for first (docs/speed.md). Rejects where there is no answer.
 */
export async function bytesOf(path: string, body: object, spare?: ArrayBuffer, signal?: AbortSignal): Promise<Answer> {
  const response = await fetch(path, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body), signal });
  return { response, bytes: await read(response, spare) };
}

async function read(response: Response, spare: ArrayBuffer | undefined): Promise<ArrayBuffer> {
  const length = knownLength(response);
  const reader = length > 0 && intoOurs(response);
  if (!reader) return response.arrayBuffer();
  let bytes = spare?.byteLength === length ? spare : new ArrayBuffer(length);
  for (let at = 0; at < length;) {
    const { value, done } = await reader.read(new Uint8Array(bytes, at));
    if (done || !value) throw new TypeError("The answer ended too soon.");
    bytes = value.buffer;
    at += value.byteLength;
  }
  return bytes;
}

/** How many bytes come; 0 where that is not said of what is handed over. */
const knownLength = ({ headers }: Response) => (headers.has("Content-Encoding") ? 0 : Number(headers.get("Content-Length")));

/** A reader into memory of ours; undefined where the browser has none. */
function intoOurs({ body }: Response) {
  try {
    return body?.getReader({ mode: "byob" });
  } catch {
    return undefined;
  }
}
