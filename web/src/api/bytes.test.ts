import { afterEach, expect, test, vi } from "vitest";
import { bytesOf } from "./bytes";

afterEach(() => vi.unstubAllGlobals());

/** A server that answers in pieces, which the browser hands over into memory of ours or not. */
function answering(pieces: number[][], headers: Record<string, string>, intoOurs = true) {
  const left = [...pieces];
  const source = {
    pull: (c: ReadableByteStreamController | ReadableStreamDefaultController<Uint8Array>) => {
      const p = left.shift();
      if (p) c.enqueue(new Uint8Array(p));
      else {
        c.close();
        if ("byobRequest" in c) c.byobRequest?.respond(0);
      }
    },
  };
  const body = intoOurs ? new ReadableStream({ ...source, type: "bytes" }) : new ReadableStream(source);
  vi.stubGlobal("fetch", vi.fn(() => Promise.resolve(new Response(body, { headers }))));
}

const list = (b: ArrayBuffer) => [...new Uint8Array(b)];

test("what comes in pieces is put into the memory that is lent, which is the lender's no more", async () => {
  answering([[1, 2], [3], [4, 5]], { "Content-Length": "5" });
  const spare = new ArrayBuffer(5);
  const { bytes } = await bytesOf("/view", {}, spare);
  expect(list(bytes)).toEqual([1, 2, 3, 4, 5]);
  expect(spare.byteLength).toBe(0);
});

test("memory of another length is left alone", async () => {
  answering([[1, 2], [3]], { "Content-Length": "3" });
  const spare = new ArrayBuffer(4);
  expect(list((await bytesOf("/view", {}, spare)).bytes)).toEqual([1, 2, 3]);
  expect(spare.byteLength).toBe(4);
});

test("an answer that ends too soon is none", async () => {
  answering([[1, 2]], { "Content-Length": "3" });
  await expect(bytesOf("/view", {})).rejects.toThrow("too soon");
});

test.each([
  ["whose length nobody says", {}, true],
  ["that was coded on its way", { "Content-Length": "2", "Content-Encoding": "gzip" }, true],
  ["from a browser that hands over none into ours", { "Content-Length": "3" }, false],
])("an answer %s comes whole", async (_, headers, ours) => {
  answering([[7, 8], [9]], headers, ours);
  expect(list((await bytesOf("/view", {})).bytes)).toEqual([7, 8, 9]);
});
