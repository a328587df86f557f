import type dayjs from "dayjs";
import { postEvents } from "../app/server/bench/bench.server";
import type { Person } from "../app/server/people/people.server";
import { startRun } from "../app/server/runs/runs.server";
import type { Site } from "../app/server/sites/sites.server";
import { fits, strengthGiven } from "../app/server/stock/lotsInHand.server";
import type { Subject } from "../core/bench/subject";
import { libraryMethod, RunPlayer } from "../core/simulation/runPlayer";
import type { Demo } from "./story";

/** What a run of the demo needs to be told; its bottles are those on the shelf. */
export interface DemoRun {
  method: string;
  site: Site;
  sample: string;
  by: Person;
  temperature_c: number;
  /** About what the water holds, in the unit of the method. */
  size: number;
  /** What is in the vessel; the sample, where nothing is said. */
  subject?: Subject;
  /** Who looks at each colour once more, and how many steps more they see; nobody, where nothing is said. */
  second?: { observer: string; more(): number };
}

/** A whole run, through the same doors a user uses. Returns when it ended. */
export async function runMethod(
  hands: Pick<Demo, "db" | "id" | "supplies">,
  begin: dayjs.Dayjs,
  run: DemoRun,
): Promise<dayjs.Dayjs> {
  const method = libraryMethod(run.method);
  const bottles = method.materials.flatMap((m) => {
    const stored = m.lot && hands.supplies.find((s) => fits(s.lot, method, m));
    return stored ? [{ material: m, stored }] : [];
  });
  const lots = bottles.map(({ material, stored }) => ({
    material: material.key,
    name: material.name,
    code: stored.lot.code,
    expires_on: stored.lot.expires_on,
    reason: null,
    lot_id: stored.id,
    gives: stored.lot.kind === "titrant" && stored.lot.strength ? [strengthGiven(stored.lot.strength)] : [],
  }));
  const titrant = bottles.find(({ stored }) => stored.lot.kind === "titrant")?.stored;
  const led = bottles.find(({ stored }) => stored.lot.kit?.method === method.id)?.stored;
  const at = begin.toISOString();
  const work_id = hands.id(at);
  const choices = {
    sample: run.sample,
    temperature_c: run.temperature_c,
    dilution: 1,
    dilutes: null,
    lots,
    strength: titrant?.lot.strength?.value ?? null,
    strength_uncertainty: titrant?.lot.strength?.uncertainty ?? null,
    blank_ml: null,
    subject: run.subject ?? ({ kind: "sample" } as const),
    kit: led?.lot.kit
      ? { lot_id: led.id, code: led.lot.code, source: led.lot.kit.source, complete: true }
      : null,
  };
  await startRun(hands.db, { work_id, event_id: hands.id(at), actor: run.by, at }, method, run.site, choices);
  const player = new RunPlayer(method, { temperature_c: run.temperature_c, lots }, begin.valueOf() + 1000);
  const { second } = run;
  player.play(run.size, () => second && player.secondLook(second.observer, second.more()));
  const events = player.events.slice(1).map((e) => ({ ...e, id: hands.id(e.at), by: run.by.id }));
  const end = events.at(-1)?.at ?? at;
  const posted = await postEvents(hands.db, run.by, work_id, events, end);
  if (posted.refused) throw new Error(posted.refused.message);
  return begin.add(player.clock - begin.valueOf(), "millisecond");
}
