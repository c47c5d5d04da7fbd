import { describe, expect, it, vi } from "vitest";
import { around, visible } from "./visible";
import { hasMost, laid, panned, taken, type Place } from "./strips";

/** A picture whose every place has a value of its own, and what a view of it shows. */
const value = (x: number, y: number) => Math.round(x * 1000) * 100_003 + Math.round(y * 1000);
const show = (v: Place) => {
  const s = v.w / v.width;
  return Array.from({ length: v.height }, (_, j) => Array.from({ length: v.width }, (_, i) => value(v.x + (i + 0.5) * s, v.y + (j + 0.5) * s)));
};
const view = (x: number, y: number, width: number, height: number, scale = 1): Place => ({ x, y, w: width * scale, h: height * scale, width, height });

/** The view that is wanted, put together; how many pixels of it were asked for. */
function together(have: Place, want: Place) {
  const t = taken(have, want);
  if (!t) return undefined;
  const there = show(have);
  const to: (number | undefined)[][] = Array.from({ length: want.height }, (_, j) => Array.from({ length: want.width }, (_, i) => there[j - t.dy]?.[i - t.dx]));
  let asked = 0;
  for (const m of t.missing)
    show(m).forEach((row, j) => row.forEach((v, i) => {
      asked++;
      const line = to[m.top + j];
      expect(line?.[m.left + i]).toBeUndefined(); // nothing comes twice
      if (line) line[m.left + i] = v;
    }));
  return { to, asked };
}

describe("what is taken over from a frame", () => {
  it("and what is missing are the view, whichever way it moved, at any scale", () => {
    for (const scale of [1, 2.5, 1 / 3])
      for (const [dx, dy] of [[12, 0], [-12, 0], [0, 7], [0, -7], [5, -9], [-20, 3], [0, 0]] as const)
        for (const [width, height] of [[60, 40], [52, 44]] as const) {
          const want = view(100 * scale + dx * scale, 50 * scale + dy * scale, width, height, scale);
          const got = together(view(100 * scale, 50 * scale, 60, 40, scale), want);
          expect(got?.to).toEqual(show(want));
          if (width === 60) expect(got?.asked).toBe(60 * 40 - (60 - Math.abs(dx)) * (40 - Math.abs(dy)));
        }
  });

  it("is nothing at another scale, between pixels, far away or where little would be left", () => {
    expect(taken(view(0, 0, 60, 40), view(0, 0, 60, 40, 1.01))).toBeUndefined();
    expect(taken(view(0, 0, 60, 40), view(0.5, 0, 60, 40))).toBeUndefined();
    expect(taken(view(0, 0, 60, 40), view(60, 0, 60, 40))).toBeUndefined();
    expect(taken(view(0, 0, 60, 40), view(55, 0, 60, 40))).toBeUndefined();
  });
});

describe("a view laid of several frames", () => {
  const made = (have: Place[], want: Place) => {
    const { there, missing } = laid(have, want);
    const to: (number | undefined)[][] = Array.from({ length: want.height }, () => new Array<undefined>(want.width));
    let twice = 0;
    const put = (left: number, top: number, rows: number[][]) => {
      rows.forEach((row, j) => row.forEach((v, i) => {
        const line = to[top + j];
        if (!line || line[left + i] !== undefined) twice++;
        if (line) line[left + i] = v;
      }));
    };
    for (const t of there) {
      const from = have[t.of];
      if (from) put(t.left, t.top, show(from).slice(t.fromY, t.fromY + t.height).map((row) => row.slice(t.fromX, t.fromX + t.width)));
    }
    for (const m of missing) put(m.left, m.top, show(m));
    expect(twice).toBe(0);
    return { to, asked: missing.reduce((n, m) => n + m.width * m.height, 0), pieces: missing.length };
  };

  it("is that view, whichever of it lies in which", () => {
    for (const scale of [1, 2.5, 1 / 3]) {
      const at = (x: number, y: number, width: number, height: number) => view(x * scale, y * scale, width, height, scale);
      const frames = [at(0, 0, 60, 40), at(30, 10, 60, 40), at(-40, 33, 60, 40), at(9, 25, 20, 60), view(3, 3, 60, 40, scale * 2)];
      for (const [x, y] of [[0, 0], [15, 5], [-20, 20], [10, 20], [40, 40], [90, 0]] as const)
        for (let n = 0; n <= frames.length; n++) expect(made(frames.slice(0, n), at(x, y, 60, 40)).to).toEqual(show(at(x, y, 60, 40)));
    }
  });

  it("asks for nothing that one of them has, and takes no sliver of one for which more would be asked for", () => {
    const want = view(15, 0, 60, 40);
    expect(made([view(0, 0, 60, 40)], want).asked).toBe(15 * 40);
    expect(made([view(0, 0, 60, 40), view(30, 0, 60, 40)], want).asked).toBe(0);
    expect(made([view(0, 0, 60, 40), view(30, 0, 60, 20)], want).asked).toBe(15 * 20);
    expect(made([view(0, 0, 60, 40), view(74, 0, 60, 40)], want)).toMatchObject({ asked: 15 * 40, pieces: 1 });
  });
});

describe("what lies around a view", () => {
  const canvas = { width: 60, height: 40 };
  const picture = { width: 300, height: 200 };

  it("holds all of it, half a stage more on each side, and nothing beyond the picture", () => {
    for (const zoom of [1, 0.4, 3])
      for (const [left, top] of [[-70, -50], [-5, -60.5], [-3, 2]] as const) {
        const at = { zoom, left: left * zoom, top: top * zoom };
        const [seen, wider] = [visible(at, canvas, picture), visible(at, canvas, picture, 0.5)];
        if (!seen || !wider) throw new Error("nothing is to be seen");
        expect(taken(wider, seen)?.missing).toEqual([]);
        expect(wider.x * zoom).toBeGreaterThan(-1); // a pixel of the screen that is partly beyond
        expect(wider.y * zoom).toBeGreaterThan(-1);
        expect((wider.x + wider.w - picture.width) * zoom).toBeLessThan(1);
        const right = Math.min(30, (picture.width - seen.x - seen.w) * zoom);
        expect(((wider.x + wider.w) - (seen.x + seen.w)) * zoom).toBeGreaterThan(right - zoom - 1);
      }
  });

  it("is asked for again where more than a tenth of it is missing", () => {
    const want = view(0, 0, 60, 40);
    expect(hasMost(view(0, 0, 60, 40), want)).toBe(true);
    expect(hasMost(view(5, 0, 60, 40), want)).toBe(true);
    expect(hasMost(view(7, 0, 60, 40), want)).toBe(false);
    expect(hasMost(view(5, 0, 60, 40, 1.5), want)).toBe(false);
  });
});

it("what lies around a box is all of the canvas but that, once", () => {
  const canvas = { width: 9, height: 7 };
  for (const box of [{ x: 2, y: 3, width: 4, height: 2 }, { x: -5, y: -1, width: 9, height: 4 }, { x: 7, y: 5, width: 8, height: 8 }, { x: 20, y: 0, width: 3, height: 3 }, { x: 4, y: 4, width: -2, height: 1 }, { x: -1, y: -1, width: 30, height: 30 }]) {
    const drawn = new Uint8Array(canvas.width * canvas.height);
    for (const b of around(box, canvas)) for (let y = b.y; y < b.y + b.height; y++) for (let x = b.x; x < b.x + b.width; x++) drawn.fill((drawn[y * canvas.width + x] ?? 0) + 1, y * canvas.width + x, y * canvas.width + x + 1);
    const inside = (x: number, y: number) => x >= box.x && y >= box.y && x < box.x + box.width && y < box.y + box.height;
    expect(drawn).toEqual(drawn.map((_, i) => (inside(i % canvas.width, Math.floor(i / canvas.width)) ? 0 : 1)));
  }
});

it("what is missing is asked for before what is there is taken over, and put where it belongs", async () => {
  const did: unknown[] = [];
  vi.stubGlobal("OffscreenCanvas", class {
    getContext() {
      return { drawImage: (of: unknown, ...at: number[]) => did.push(["drawn", of, ...at]), putImageData: (of: unknown, x: number, y: number) => did.push(["put", of, x, y]) };
    }
    transferToImageBitmap() { return "all of it"; }
  });
  const bitmap = "what is there" as unknown as ImageBitmap;
  const ask = ({ x, y }: Place) => {
    did.push(["asked", x, y]);
    return Promise.resolve(y === 0 ? { pixels: "above" as unknown as ImageData } : { bitmap: { close: () => did.push(["closed"]) } as unknown as ImageBitmap });
  };
  expect(await panned([{ ...view(10, 10, 60, 40), bitmap }], view(3, 0, 60, 40), ask)).toBe("all of it");
  expect(did.slice(0, 5)).toEqual([["asked", 3, 0], ["asked", 3, 10], ["drawn", bitmap, 0, 0, 53, 30, 7, 10, 53, 30], ["put", "above", 0, 0], ["drawn", expect.anything(), 0, 10]]);
  expect(await panned([{ ...view(10, 10, 60, 40), bitmap }], view(3, 0, 60, 40), () => Promise.resolve(undefined))).toBeUndefined();
  vi.unstubAllGlobals();
});
