import type { View } from "../../api/client";

/** Bytes a second from which on raw pixels come quicker than packed ones do, packing counted in. */
const quick = 12e6;
/** How soon the server answers who is near, in seconds: a page that is busy starting makes answers look later, never sooner. */
const near = 0.02;
/** Bytes a second of a line that is long, while nothing more is known of it. */
const long = 1.5e6;
/** What came sooner than this many bytes says little about the line. */
const telling = 20_000;
/** How long a frame under a moving hand may take on the line, in seconds. */
const budget = 0.05;
/** How many pixels such a frame has at most: fewer are worked out and packed sooner, and the exact ones follow at rest. */
const most = 300_000;
/** Bytes a pixel of JPEG at the better and at the lower quality, of photographs with some noise. */
const better = { quality: 75, bytes: 0.12 };
const lower = { quality: 45, bytes: 0.07 };

/** What came over the line: so many bytes, in seconds from the first to the last. */
export interface Came {
  bytes: number;
  seconds: number;
}

/** How fast the line to the server is, and how views are asked for over it. */
export class Line {
  private readonly rates: number[] = [];
  private readonly supposed: number; // while nothing is known

  /**
   * first: what has come already. It is believed where it says that the line is slow, if that is long: a page that is busy starting looks
   * slow too.
   */
  constructor(first?: Arrived) {
    const far = first !== undefined && first.soonest > near;
    this.supposed = far && first.bytes < telling ? long : quick;
    if (far && first.bytes / first.seconds < quick / 3) this.came(first);
  }

  came({ bytes, seconds }: Came) {
    if (bytes < telling) return;
    this.rates.push(bytes / Math.max(seconds, 1e-4));
    if (this.rates.length > 5) this.rates.shift();
  }

  /** Bytes a second: the median of what came last; undefined while nothing is known. */
  get rate(): number | undefined {
    return [...this.rates].sort((a, b) => a - b)[this.rates.length >> 1];
  }

  get slow(): boolean {
    return (this.rate ?? this.supposed) < quick;
  }

  /** Asks for a view while a hand moves, on a slow line: about its pixels, in as many bytes as come in time. */
  moving<V extends Pick<View, "width" | "height">>(v: V): V & Pick<View, "as" | "quality"> {
    const bytes = budget * (this.rate ?? this.supposed);
    const pixels = v.width * v.height;
    const few = Math.min(1, Math.sqrt(most / pixels));
    const fits = few * few * pixels * better.bytes <= bytes;
    const k = fits ? few : Math.min(few, Math.max(0.25, Math.sqrt(bytes / (pixels * lower.bytes))));
    return { ...v, as: "jpeg", quality: (fits ? better : lower).quality, width: Math.max(1, Math.round(v.width * k)), height: Math.max(1, Math.round(v.height * k)) };
  }
}

/** What a page's own files told of the line. */
export interface Arrived extends Came {
  /** How long the first byte of one took at least, in seconds. */
  soonest: number;
}

/** What the page's own files tell of the line: the bytes of the large ones, over the time in which any of them was coming. */
export function arrived(entries: Pick<PerformanceResourceTiming, "requestStart" | "responseStart" | "responseEnd" | "transferSize">[]): Arrived | undefined {
  const came = entries.filter((e) => e.transferSize > 0 && e.responseStart > 0);
  const list = came.filter((e) => e.transferSize >= telling).sort((a, b) => a.responseStart - b.responseStart);
  let [bytes, ms, until] = [0, 0, 0];
  for (const e of list) {
    bytes += e.transferSize;
    ms += Math.max(0, e.responseEnd - Math.max(until, e.responseStart));
    until = Math.max(until, e.responseEnd);
  }
  return came.length > 0 ? { bytes, seconds: ms / 1000, soonest: Math.min(...came.map((e) => e.responseStart - e.requestStart)) / 1000 } : undefined;
}

/**
 * Tells a line of every view that came, by the browser's own clock. A clock of the page's would stand still while the page is busy: what comes
 * over a slow line meanwhile is there as a whole once the page looks, as if it had come at once.
 */
function listen(to: Line) {
  const observer = new PerformanceObserver((list) => {
    for (const e of list.getEntries() as PerformanceResourceTiming[]) {
      if (e.name.endsWith("/view") && e.responseStart > 0) to.came({ bytes: e.encodedBodySize, seconds: (e.responseEnd - e.responseStart) / 1000 });
    }
  });
  observer.observe({ type: "resource" });
}

let one: Line | undefined;

/** The line that this page has. */
export function line(): Line {
  if (!one) {
    one = new Line(arrived(performance.getEntriesByType("resource") as PerformanceResourceTiming[]));
    listen(one);
  }
  return one;
}
