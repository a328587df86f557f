import type dayjs from "dayjs";
import { postEvents } from "../app/server/bench/bench.server";
import type { Person } from "../app/server/people/people.server";
import { startRun } from "../app/server/runs/runs.server";
import type { Site } from "../app/server/sites/sites.server";
import { libraryMethod, RunPlayer } from "../core/simulation/runPlayer";
import type { Hands } from "./bench";

/** What a run of the demo needs to be told; its lots last for the twelve weeks. */
export interface DemoRun {
  method: string;
  site: Site;
  sample: string;
  by: Person;
  temperature_c: number;
  /** About what the water holds, in the unit of the method. */
  size: number;
}

/** A whole run, through the same doors a user uses. Returns when it ended. */
export async function runMethod(hands: Hands, begin: dayjs.Dayjs, run: DemoRun): Promise<dayjs.Dayjs> {
  const method = libraryMethod(run.method);
  const expires_on = begin.add(1, "year").format("YYYY-MM-DD");
  const lots = method.materials.flatMap((m, i) =>
    m.lot
      ? [
          {
            material: m.key,
            name: m.name,
            code: `${m.key.slice(0, 2).toUpperCase()}-${14 + i}`,
            expires_on,
            reason: null,
          },
        ]
      : [],
  );
  const at = begin.toISOString();
  const work_id = hands.id(at);
  const choices = {
    sample: run.sample,
    temperature_c: run.temperature_c,
    dilution: 1,
    dilutes: null,
    lots,
    strength: null,
    blank_ml: null,
  };
  await startRun(hands.db, { work_id, event_id: hands.id(at), actor: run.by, at }, method, run.site, choices);
  const player = new RunPlayer(method, { temperature_c: run.temperature_c, lots }, begin.valueOf() + 1000);
  player.play(run.size);
  const events = player.events.slice(1).map((e) => ({ ...e, id: hands.id(e.at), by: run.by.id }));
  const end = events.at(-1)?.at ?? at;
  const posted = await postEvents(hands.db, run.by, work_id, events, end);
  if (posted.refused) throw new Error(posted.refused.message);
  return begin.add(player.clock - begin.valueOf(), "millisecond");
}
