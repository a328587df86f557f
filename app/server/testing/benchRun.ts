import { ulid } from "ulid";
import type { Method } from "../../../core/methods/method";
import type { RunEvent } from "../../../core/runs/runEvents";
import { type Posted, postEvents } from "../bench/bench.server";
import { type RunChoices, startRun } from "../runs/runs.server";
import type { TestBench } from "./testBench";

/** Opens a run of a method on the test bench; with a lot of everything that has one, unless told otherwise or which. */
export async function openTestRun(
  { db, person, site }: TestBench,
  method: Method,
  at: string,
  {
    work = ulid(),
    lots = true,
    ...more
  }: Partial<Omit<RunChoices, "lots">> & { work?: string; lots?: boolean | RunChoices["lots"] } = {},
): Promise<string> {
  const own = method.materials.filter((m) => m.lot && lots === true);
  const choices: RunChoices = {
    sample: "BP-0412",
    temperature_c: 20,
    dilution: 1,
    dilutes: null,
    strength: null,
    blank_ml: null,
    lots: Array.isArray(lots)
      ? lots
      : own.map(({ key, name }) => ({
          material: key,
          name,
          code: "L-1",
          expires_on: "2027-01-01",
          reason: null,
        })),
    ...more,
  };
  const start = { work_id: work, event_id: ulid(Date.parse(at)), actor: person, at };
  await startRun(db, start, method, site, choices);
  return work;
}

/**
 * Posts what was played apart to a run that is open; its events get ids of their own, in the same order. It is received
 * when the last of it has happened.
 */
export function postPlayed(
  { db, person }: TestBench,
  work: string,
  events: readonly RunEvent[],
  at: string,
): Promise<Posted> {
  const own = events
    .filter((e) => e.type !== "started")
    .map((e) => ({ ...e, id: `0${work.slice(11, 20)}${e.id.slice(10)}`, by: person.id }));
  const received = [at, ...own.map((e) => e.at)].sort().at(-1) ?? at;
  return postEvents(db, person, work, own, received);
}
