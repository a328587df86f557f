import type dayjs from "dayjs";
import { postEvents } from "../app/server/bench/bench.server";
import { beginStop, findRound, planRound } from "../app/server/visits/rounds.server";
import { keepTemplate } from "../app/server/visits/templates.server";
import { bottleTypeOf } from "../core/samples/bottleTypes";
import { noLook, noPlan, type VisitPlan } from "../core/samples/visitEvents";
import { libraryMethod } from "../core/simulation/runPlayer";
import type { Hands } from "./bench";
import { type Demo, isoDay, must, sampleName } from "./story";

/** From the outfall up to the borehole: what is stirred up does not reach water still to be taken. */
const upstream = [6, 4, 3, 2, 1, 0];

const looking: VisitPlan = { ...noPlan, look: true };

async function planned(
  demo: Demo,
  hands: Hands,
  day: dayjs.Dayjs,
  name: string,
  plan: VisitPlan,
  at = day.hour(7).minute(30).toISOString(),
): Promise<string> {
  const by = must(demo.people[0]);
  const id = hands.id(at);
  await planRound(
    hands.db,
    { id, on_date: isoDay(day), name, person_id: by.id },
    upstream.map((i) => {
      const site = must(demo.sites[i]);
      return { site_id: site.id, site: site.name, short: sampleName(i, day), plan };
    }),
    by,
    at,
  );
  return id;
}

/** A morning on which somebody only walked the water and looked, from the outfall up. */
export async function walkedUp(demo: Demo, hands: Hands, day: number): Promise<void> {
  const by = must(demo.people[0]);
  const date = demo.today.add(day, "day");
  const id = await planned(demo, hands, date, "Walk up the water", looking);
  let clock = date.hour(7).minute(45);
  for (const { work, site } of must(await findRound(hands.db, id)).stops) {
    clock = clock.add(11, "minute");
    await beginStop(hands.db, id, work, by, clock.toISOString());
    const brown = site === "South reed bed";
    const happened = [
      { type: "arrived", people: "", position: null, back_by: null },
      {
        type: "looked",
        look: {
          ...noLook,
          weather: "cloudy",
          rain_24h: "light",
          level: "normal",
          flow: "normal",
          colour: brown ? "brown" : "clear",
          smell: brown ? "earthy" : "none",
          surface: "clean",
          shore: "as usual",
          animals: "birds",
          litter: "none",
          note: brown ? "A wet patch above the plank, where none was before." : "",
        },
      },
      { type: "finished" },
    ].map((event, i) => {
      const at = clock.add(i + 1, "minute").toISOString();
      return { id: hands.id(at), at, by: by.id, ...event };
    });
    const posted = await postEvents(hands.db, by, work, happened, must(happened.at(-1)).at);
    if (posted.refused) throw new Error(posted.refused.message);
  }
}

/** The next round is planned, with its list kept as a template. */
export async function nextRound(demo: Demo, hands: Hands, day: number, now: string): Promise<void> {
  const plan: VisitPlan = {
    ...noPlan,
    air: true,
    look: true,
    measurands: ["temperature", "ph", "conductivity"],
    methods: ["nitrate-tube", "oxygen-drops"].map((id) => {
      const { name, result } = libraryMethod(id);
      return { id, name, parameters: [result.parameter] };
    }),
    bottles: [must(bottleTypeOf("nutrients-filtered"))],
  };
  await keepTemplate(hands.db, "Ponds, with nutrients", plan, must(demo.people[0]), now);
  await planned(demo, hands, demo.today.add(day, "day"), "Nutrients from the outfall up", plan, now);
}
