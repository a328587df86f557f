import { clockGrace_ms } from "../../core/bench/claim";

/**
 * The clock of this device against the server's. A device that is off by minutes would date what is captured wrongly and
 * show clocks that ring too early or too late: it is measured, said, and corrected for.
 */
let offset_ms = 0;
const listeners = new Set<() => void>();

/** The present moment by the server's clock, in milliseconds of the epoch. */
export const correctedNow = (): number => Date.now() + offset_ms;

/** How far this device's clock is behind the server's (negative: ahead), in milliseconds; 0 when it is right. */
export const clockOffset = (): number => offset_ms;

export function onClockChange(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Learns from an answer of the server: `asked` and `answered` are this device's moments around it. */
export function learnClock(server_ms: number, asked: number, answered: number): void {
  // The answer was made somewhere between the two: half of the way is the uncertainty.
  const measured = server_ms - (asked + answered) / 2;
  const uncertain = (answered - asked) / 2;
  const next = Math.abs(measured) > clockGrace_ms + uncertain ? Math.round(measured) : 0;
  if (Math.abs(next - offset_ms) < 1000 && (next === 0) === (offset_ms === 0)) return;
  offset_ms = next;
  for (const listener of listeners) listener();
}

/** Asks the server what time it is. A server that cannot be reached teaches nothing. */
export async function measureClock(): Promise<void> {
  try {
    const asked = Date.now();
    const answer = await fetch("/clock", { signal: AbortSignal.timeout(5000) });
    const { now }: { now: number } = await answer.json();
    learnClock(now, asked, Date.now());
  } catch {
    // The next page asks again.
  }
}
