/** What is made of a moment that a device claims. All times ISO, UTC. */
export interface BelievedMoment {
  at: string;
  /** What the device said, where that is not what is kept. */
  claimed_at?: string;
  /** The claim could not be believed even after the device's clock was corrected. */
  doubted?: true;
}

/** A device's clock and the server's differ by this much without meaning anything, in milliseconds. */
export const clockGrace_ms = 2 * 60_000;

/**
 * The moment at which something happened, from what a device claims and when it was received. `offset_ms` is the server's
 * clock minus the device's, as measured with the request: a clock that is off is corrected for. What then lies after it
 * was received, or before the work began, is not believed: the nearest possible moment is kept, and the claim beside it.
 * Source: house rule. Check value: claimed a year ahead by a clock that is right, it is kept as received, doubted.
 */
export function believe(
  claimed: string,
  { offset_ms, received_at, not_before }: { offset_ms: number; received_at: string; not_before: string },
): BelievedMoment {
  const off = Math.abs(offset_ms) > clockGrace_ms;
  const moment = Date.parse(claimed) + (off ? offset_ms : 0);
  const at = new Date(moment).toISOString();
  const [earliest, latest] = [Date.parse(not_before), Date.parse(received_at)];
  if (moment > latest + clockGrace_ms) return { at: received_at, claimed_at: claimed, doubted: true };
  if (moment < earliest - clockGrace_ms) return { at: not_before, claimed_at: claimed, doubted: true };
  if (moment < earliest) return { at: not_before, claimed_at: claimed };
  return off ? { at, claimed_at: claimed } : { at };
}
