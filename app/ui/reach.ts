import { useEffect, useSyncExternalStore } from "react";

/** So often it is looked whether the server is there again. */
const look_ms = 2000;
/** A server that has not answered by then is not there. */
const timeout_ms = 5000;

/** Whoever was heard so lately is there. */
const lately_ms = 1000;

let heard = 0;
export const heardLately = (): boolean => Math.abs(Date.now() - heard) < lately_ms;

/** Whether the server can be reached at all; what it answers does not matter. */
export async function reached(): Promise<boolean> {
  if (heardLately()) return true;
  try {
    await fetch("/health", { cache: "no-store", signal: AbortSignal.timeout(timeout_ms) });
    heard = Date.now();
    return true;
  } catch {
    return false;
  }
}

/** Whether a fetch failed because it reached nobody: that is a TypeError, anything else was an answer. So may be a fault of ours. */
export const reachedNobody = (error: unknown): boolean => error instanceof TypeError;

/** How many wait for the server, and who is told when that changes. */
let waiting = 0;
const listeners = new Set<() => void>();
function count(change: 1 | -1): void {
  waiting += change;
  for (const listener of listeners) listener();
}

/**
 * Waits until the server can be reached, or nobody waits any more; {@link useUnreached} says meanwhile that it cannot. Tells whether
 * there was anything to wait for.
 */
export async function untilReached(signal: AbortSignal): Promise<boolean> {
  if (await reached()) return false;
  const left = new Promise((done) => signal.addEventListener("abort", done, { once: true }));
  count(1);
  try {
    do await Promise.race([left, new Promise((later) => setTimeout(later, look_ms))]);
    while (!signal.aborted && !(await reached()));
  } finally {
    count(-1);
  }
  return true;
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Whether something waits for a server that cannot be reached. */
export const useUnreached = (): boolean =>
  useSyncExternalStore(
    subscribe,
    () => waiting > 0,
    () => false,
  );

/** For a page that could not be fetched: loads it anew when the server can be reached again, if it was that. */
export function useReloadWhenReached(active: boolean): void {
  useEffect(() => {
    if (!active) return;
    const left = new AbortController();
    void untilReached(left.signal).then((waited) => {
      if (waited && !left.signal.aborted) location.reload();
    });
    return () => left.abort();
  }, [active]);
}
