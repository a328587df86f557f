import { monotonicFactory } from "ulid";
import { postEvents } from "../../app/server/bench/bench.server";
import { listPeople } from "../../app/server/people/people.server";
import { openDatabase } from "../../app/server/platform/engine.server";
import { listMethods } from "../../app/server/runs/methods.server";
import { startRun } from "../../app/server/runs/runs.server";
import { sitesInUse } from "../../app/server/sites/sites.server";
import { startVisit } from "../../app/server/visits/visits.server";
import { bottleTypes } from "../../core/samples/bottleTypes";
import { noPlan, type VisitPlan } from "../../core/samples/visitEvents";
import { libraryMethod } from "../../core/simulation/runPlayer";

/** So many strips with two clocks each are begun there. */
const strips = 6;

/**
 * Begins a visit with forty things to do and twelve clocks running, in a database that a server may have open; the clocks run for as
 * long as their strips wait. Returns its address.
 */
export async function makeBusyVisit(file: string): Promise<string> {
  const db = await openDatabase(file, { migrate: false });
  try {
    const ulid = monotonicFactory();
    const now = new Date().toISOString();
    const [actor, site] = [(await listPeople(db))[0], (await sitesInUse(db))[0]];
    if (!actor || !site) throw new Error("The database has nobody and no water.");
    const methods = (await listMethods(db)).flatMap(({ method }) =>
      method.measure.technique === "meter" ? [] : [{ id: method.id, name: method.name, parameters: [] }],
    );
    const bottles = Array.from({ length: 17 }, (_, i) => bottleTypes[i % bottleTypes.length]).flatMap(
      (t) => t ?? [],
    );
    const plan: VisitPlan = {
      ...noPlan,
      air: true,
      look: true,
      clarity: true,
      measurands: ["temperature", "ph", "conductivity", "oxygen", "redox"],
      methods: methods.slice(0, 13),
      bottles,
    };
    const work = ulid();
    await startVisit(db, { work_id: work, event_id: ulid(), actor, at: now }, site, plan);
    const post = (id: string, events: object[]) =>
      postEvents(
        db,
        actor,
        id,
        events.map((e) => ({ id: ulid(), at: now, by: actor.id, ...e })),
        now,
      );
    await post(work, [{ type: "arrived", people: "" }]);
    const method = libraryMethod("nitrite-nitrate-strip");
    for (let i = 0; i < strips; i++) {
      const run = ulid();
      const start = { work_id: run, event_id: ulid(), actor, at: now, visit_id: work };
      const choices = {
        sample: `S-${i}`,
        temperature_c: 15,
        dilution: 1,
        dilutes: null,
        lots: [],
        strength: null,
        blank_ml: null,
      };
      await startRun(db, start, method, site, choices);
      await post(run, [
        { type: "done", replicate: 0, step: "ready" },
        { type: "done", replicate: 0, step: "dip" },
      ]);
    }
    return `/visits/${work}`;
  } finally {
    await db.destroy();
  }
}
