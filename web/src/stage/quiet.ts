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
