let busy = false;
let waiting: (() => void)[] = [];

/** Says whether all that a stage wants has come. */
export function stageIs(settled: boolean) {
  busy = !settled;
  if (busy) return;
  const all = waiting;
  waiting = [];
  all.forEach((f) => f());
}

/** Resolves once the stage has what it wants: what else is asked of the server would take its time. */
export const stageQuiet = () => (busy ? new Promise<void>((done) => waiting.push(done)) : Promise.resolve());

/** Resolves once it has that and the screen was drawn with it: what the page does then delays no picture. */
export const stageDrawn = () => stageQuiet().then(() => new Promise<void>((done) => { requestAnimationFrame(() => setTimeout(done)); }));
