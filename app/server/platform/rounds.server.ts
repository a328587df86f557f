/** What the server looks after from time to time. None of it keeps the program from ending. */
const rounds = new Set<NodeJS.Timeout>();

function keep(timer: NodeJS.Timeout): void {
  timer.unref();
  rounds.add(timer);
}

/** Looks after something every so often from now on; where `first_ms` is given, once more after that time. */
export function lookEvery(every_ms: number, look: () => void, first_ms?: number): void {
  keep(setInterval(look, every_ms));
  if (first_ms !== undefined) keep(setTimeout(look, first_ms));
}

/** Looks after nothing any more, before the database is closed. */
export function endRounds(): void {
  for (const timer of rounds) clearTimeout(timer);
  rounds.clear();
}
