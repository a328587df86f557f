import { config } from "./config.server";

/**
 * The server's clock: the one that dates what is kept. Where BRINTEL_TEST_CLOCK is set it can be wound on, so that tests
 * that stop the browser's clock need not wait for the server's.
 */
let ahead_ms = 0;

export const nowMs = (): number => Date.now() + ahead_ms;
export const nowIso = (): string => new Date(nowMs()).toISOString();

/** Winds the clock on by so much in all; false where that is not for anybody to do. */
export function windClock(ms: number): boolean {
  if (!config().BRINTEL_TEST_CLOCK) return false;
  ahead_ms = ms;
  return true;
}
