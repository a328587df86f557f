/** One stretch of a test: hands busy (perhaps with a thing of which there is one), or a wait that nobody attends. */
export type Part =
  | { kind: "hands"; seconds: number; equipment?: string }
  /** `max_s` is how long the wait may become; null for a wait that may last. An exact wait has `max_s` equal to `min_s`. */
  | { kind: "wait"; min_s: number; max_s: number | null };

/** One test to be run, in its parts. One person keeps it from beginning to end. */
export interface Job {
  name: string;
  parts: readonly Part[];
  /** When its first part may begin, and by when it must have begun; for a test that is under way. */
  release_s?: number;
  due_s?: number | null;
  /** Who has it in hand already. */
  person?: number;
  /** Jobs of one run that nobody has in hand begin in the order of the list: what is done once is in the first. */
  run?: string;
  /** How long its water keeps, minutes: among plans that are equal otherwise, what keeps least begins first. */
  keeps_min?: number;
}

/** A stretch of hands with the wait before it. */
export interface Op {
  seconds: number;
  equipment: readonly string[];
  /** From the end of the one before to the beginning of this, least and most. */
  min_lag: number;
  max_lag: number;
}

/**
 * A job as stretches of hands with the waits between them: neighbours with the same things are joined, and a wait at the end is followed
 * by a look that takes no time. Check value: 30 s hands, 120 s wait, 20 s hands are two stretches.
 */
export function opsOf(job: Job): Op[] {
  const ops: Op[] = [];
  let lag: { min: number; max: number } = {
    min: job.release_s ?? 0,
    max: job.due_s ?? Number.POSITIVE_INFINITY,
  };
  let open: { seconds: number; equipment: string[] } | null = null as {
    seconds: number;
    equipment: string[];
  } | null;
  const close = () => {
    if (open) ops.push({ ...open, min_lag: lag.min, max_lag: Math.max(lag.min, lag.max) });
    open = null;
  };
  let waiting = false;
  for (const part of job.parts) {
    if (part.kind === "hands") {
      const equipment = part.equipment ? [part.equipment] : [];
      if (open && String(open.equipment) !== String(equipment)) {
        // The thing is taken only when it is needed.
        close();
        lag = { min: 0, max: Number.POSITIVE_INFINITY };
      }
      open ??= { seconds: 0, equipment };
      open.seconds += part.seconds;
      waiting = false;
      continue;
    }
    const max = part.max_s ?? Number.POSITIVE_INFINITY;
    if (waiting) {
      lag = { min: lag.min + part.min_s, max: lag.max + max };
      continue;
    }
    open ??= ops.length ? null : { seconds: 0, equipment: [] };
    close();
    lag = { min: part.min_s, max };
    waiting = true;
  }
  if (waiting || ops.length === 0) open ??= { seconds: 0, equipment: [] };
  close();
  return ops;
}

/** Seconds of hands in a list of stretches. */
export const handsOf = (ops: readonly Op[]): number => ops.reduce((sum, op) => sum + op.seconds, 0);

/** The shortest time from the beginning of a stretch to the end of its job. */
export const chainFrom = (ops: readonly Op[], from: number): number =>
  ops.slice(from).reduce((sum, op, i) => sum + op.seconds + (i > 0 ? op.min_lag : 0), 0);
