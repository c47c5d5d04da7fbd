let busy = false;
let turn = 0; // how many times it was
let waiting: (() => void)[] = [];

/** Says whether all that a stage wants has come. */
export function stageIs(settled: boolean) {
  busy = !settled;
  if (busy) {
    turn++;
    return;
  }
  const all = waiting;
  waiting = [];
  all.forEach((f) => f());
}

/** Resolves once the stage has what it wants: what else is asked of the server would take its time. */
export const stageQuiet = () => (busy ? new Promise<void>((done) => waiting.push(done)) : Promise.resolve());

/** Resolves once it has that and the screen was drawn with it: what the page does then delays no picture. */
export const stageDrawn = () => stageQuiet().then(() => new Promise<void>((done) => { requestAnimationFrame(() => setTimeout(done)); }));

/** How long a stage lies still before nobody is taken to be about to change it, in milliseconds. */
export const still = 150;

/**
 * Resolves once the stage has had what it wants for a while. Who tries one colour after the other, as fast as they come, wants nothing else meanwhile:
 * what is worked out beside makes each come later.
 */
export async function stageRests() {
  for (let seen = -1; seen !== turn;) {
    await stageQuiet();
    seen = turn;
    await new Promise((done) => setTimeout(done, still));
  }
}
