import type dayjs from "dayjs";
import { postEvents } from "../app/server/bench/bench.server";
import type { Person } from "../app/server/people/people.server";
import { startVisit } from "../app/server/visits/visits.server";
import type { NewEvent } from "../core/bench/event";
import { gaussian } from "../core/quantity/random";
import { type BottleType, bottleTypeOf, bringsItsDose } from "../core/samples/bottleTypes";
import { type Look, noLook, noPlan, type VisitEvent, type VisitPlan } from "../core/samples/visitEvents";
import type { Hands } from "./bench";
import { type Demo, must } from "./story";

type Happening = NewEvent<VisitEvent>;

/** What happens on a visit, with the minutes since what happened before. */
type Step = [minutes: number, happening: Happening];

const bottle = (id: string): BottleType => must(bottleTypeOf(id));
const look = (seen: Partial<Look>): Step => [
  1,
  {
    type: "looked",
    look: {
      ...noLook,
      weather: "cloudy",
      rain_24h: "none",
      wind: "light",
      level: "normal",
      colour: "clear",
      smell: "none",
      surface: "clean",
      flow: "normal",
      shore: "as usual",
      litter: "none",
      ...seen,
    },
  },
];
const air = (value_c: number): { hang: Step; read: Step[] } => ({
  hang: [1, { type: "hung" }],
  read: [
    [5, { type: "air-read", value_c: Math.round(value_c * 10) / 10 }],
    [1, { type: "fetched" }],
  ],
});

/** A bottle filled by its type: rinsed as often as it asks, filtered, dosed and put on ice, unless that is forgotten. */
function filled(
  hands: Hands,
  begin: dayjs.Dayjs,
  index: number,
  type: BottleType,
  code: string,
  depth_cm: number | null,
  iced = true,
): Step[] {
  const sample = { id: hands.id(begin.toISOString()), code };
  return [
    ...Array.from({ length: type.rinses }, (): Step => [0.4, { type: "rinsed", bottle: index }]),
    [1, { type: "filled", bottle: index, sample, depth_cm }],
    ...(type.filter ? [[3, { type: "filtered", bottle: index, outcome: "filtered" }] as Step] : []),
    ...(type.preservative && !bringsItsDose(type) ? [[1, { type: "fixed", bottle: index }] as Step] : []),
    ...(type.cold && iced ? [[1, { type: "stored", bottle: index }] as Step] : []),
  ];
}

/** Plays a visit through the doors a user uses. */
async function visit(
  hands: Hands,
  begin: dayjs.Dayjs,
  by: Person,
  site: Demo["sites"][number],
  plan: VisitPlan,
  steps: readonly Step[],
): Promise<string> {
  const at = begin.toISOString();
  const work_id = hands.id(at);
  await startVisit(hands.db, { work_id, event_id: hands.id(at), actor: by, at }, site, plan);
  let clock = begin.add(18, "minute");
  const events = [
    [0, { type: "arrived", people: "", position: null, back_by: null }] as Step,
    ...steps,
    [4, { type: "finished" }] as Step,
  ].map(([minutes, happening]) => {
    clock = clock.add(Math.round(minutes * 60), "second");
    const when = clock.toISOString();
    return { id: hands.id(when), at: when, by: by.id, ...happening };
  });
  const posted = await postEvents(hands.db, by, work_id, events, clock.toISOString());
  if (posted.refused) throw new Error(posted.refused.message);
  return work_id;
}

const nothing: VisitPlan = { ...noPlan, air: true, look: true };

const code = (letters: string, begin: dayjs.Dayjs, n: number) => `${letters}-${begin.format("YYMMDD")}-${n}`;

/**
 * Once a fortnight the borehole is purged and sampled; once it was sampled before its water was steady, and the bottles never went
 * onto ice. Returns the visit. Where its
 * bottles go to a laboratory, a sterile one is filled too.
 */
export async function boreholeVisit(
  demo: Demo,
  hands: Hands,
  day: number,
  week: number,
  sent: boolean,
): Promise<string> {
  const by = must(demo.people[1]);
  const begin = demo.today.add(day, "day").hour(15).minute(5);
  const hasty = week === 4;
  const [general, nutrients, sterile] = [bottle("general"), bottle("nutrients-filtered"), bottle("sterile")];
  const bottles = [general, nutrients, ...(sent ? [sterile] : [])];
  const plan = { ...nothing, bottles, well: { volumes: 3, rounds: 3 } };
  const hung = air(9 + 3 * gaussian(hands.random));
  const ph = 7.31 + 0.02 * gaussian(hands.random);
  const round = (off: number): Step => [
    6,
    {
      type: "round",
      values: {
        ph: Math.round((ph + off) * 100) / 100,
        conductivity: Math.round(612 + 120 * off),
        temperature: Math.round((10.8 - off) * 10) / 10,
        oxygen: Math.round((4.1 + off) * 100) / 100,
      },
    },
  ];
  const steady = hasty ? [round(0.5)] : [round(0.5), round(0.06), round(0.02), round(0)];
  return visit(hands, begin, by, must(demo.sites[0]), plan, [
    hung.hang,
    look({ weather: week % 3 ? "cloudy" : "rain", note: hasty ? "In a hurry: the van was wanted." : "" }),
    [
      3,
      {
        type: "dipped",
        dip: { depth_m: 24, level_m: Math.round(138 + 4 * gaussian(hands.random)) / 10, diameter_mm: 150 },
      },
    ],
    [4, { type: "flow", litres: 10, seconds: 19 + Math.round(2 * hands.random()) }],
    ...steady,
    ...filled(hands, begin, 0, general, code("E1", begin, 1), null, !hasty),
    ...filled(hands, begin, 1, nutrients, code("E1", begin, 2), null, !hasty),
    ...(sent ? filled(hands, begin, 2, sterile, code("E1", begin, 3), null) : []),
    [1, { type: "pump-stopped" }],
    ...hung.read,
  ]);
}

/** The bathing pond between: its clarity, and an oxygen pair of which one bottle once had a bubble. */
export async function pondVisit(demo: Demo, hands: Hands, day: number, week: number): Promise<void> {
  const by = must(demo.people[0]);
  const begin = demo.today.add(day, "day").hour(14).minute(20);
  const pair = bottle("oxygen-pair");
  const plan = { ...nothing, clarity: true, bottles: [pair] };
  const hung = air(12 + 3 * gaussian(hands.random));
  const seen = Math.max(70, Math.round(150 + 15 * gaussian(hands.random)));
  const steps = filled(hands, begin, 0, pair, code("BP", begin, 1), 15);
  // The sample keeps its name when a bubble empties the pair.
  const full = steps.findIndex(([, h]) => h.type === "filled");
  const again = week === 5 ? [must(steps[full]), [1, { type: "bubble", bottle: 0 }] as Step] : [];
  await visit(hands, begin, by, must(demo.sites[4]), plan, [
    hung.hang,
    look({ colour: week > 8 ? "green" : "clear", rain_24h: week % 2 ? "light" : "none" }),
    ...steps.slice(0, full),
    ...again,
    ...steps.slice(full),
    [
      2,
      {
        type: "clarity",
        clarity: { disc_cm: 20, disappears_cm: seen + 4, reappears_cm: seen - 4, depth_cm: 240 },
      },
    ],
    ...hung.read,
  ]);
}

/** A day on which the disc was seen three times: bathers stirred the pond up. */
export async function discDay(demo: Demo, hands: Hands, day: number): Promise<void> {
  const by = must(demo.people[0]);
  for (const [hour, seen] of [
    [9, 90],
    [12, 60],
    [17, 75],
  ] as const) {
    const begin = demo.today.add(day, "day").hour(hour).minute(10);
    await visit(hands, begin, by, must(demo.sites[4]), { ...nothing, air: false, clarity: true }, [
      look({ weather: "clear", colour: hour === 12 ? "brown" : "clear" }),
      [
        3,
        {
          type: "clarity",
          clarity: { disc_cm: 20, disappears_cm: seen + 3, reappears_cm: seen - 3, depth_cm: 240 },
        },
      ],
    ]);
  }
}
