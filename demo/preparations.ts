import { postEvents } from "../app/server/bench/bench.server";
import { lotsOfCodes, type StoredLot } from "../app/server/stock/lots.server";
import { startPreparation } from "../app/server/stock/preparations.server";
import { findRecipe } from "../app/server/stock/recipes.server";
import {
  standardNamed,
  startStandardisation,
  takeStandardisationOut,
  titrantToStandardise,
} from "../app/server/stock/standardisations.server";
import { replay } from "../core/bench/event";
import { gaussian } from "../core/quantity/random";
import { lotSchema } from "../core/stock/lot";
import { nextOf, preparationFolding, wanted } from "../core/stock/preparation";
import type { Parent, PreparationEvent } from "../core/stock/preparationEvents";
import type { StandardisationEvent } from "../core/stock/standardisationEvents";
import type { SupplyLot } from "../core/stock/supply";
import { runMethod } from "./analyses";
import type { Hands } from "./bench";
import { type Demo, isoDay, must, sampleName } from "./story";

/** What is made at the bench, on which day counted from today, of which bottle. */
const made: { recipe: string; day: number; volume_ml: number; from: string; code: string; place: string }[] =
  [
    {
      recipe: "nacl-stock",
      day: -42,
      volume_ml: 1000,
      from: "NACL-5",
      code: "NACL-STOCK",
      place: "standards, shelf 1",
    },
    {
      recipe: "nacl-standard",
      day: -13,
      volume_ml: 1000,
      from: "NACL-STOCK",
      code: "NACL-100",
      place: "standards, shelf 1",
    },
    {
      recipe: "electrolyte",
      day: -41,
      volume_ml: 100,
      from: "KCL-2",
      code: "ELY-1",
      place: "meters, drawer",
    },
    {
      recipe: "iodate-standard",
      day: -6,
      volume_ml: 1000,
      from: "IOD-1",
      code: "IO-3",
      place: "standards, shelf 1",
    },
    {
      recipe: "thiosulfate",
      day: -6,
      volume_ml: 1000,
      from: "THIO-1",
      code: "TS-23",
      place: "reagents, shelf 2",
    },
  ];

/** The thiosulfate of the house is held against the iodate on the day both were made, and titrated with soon after. */
const standardised = { day: -6, titrant: "TS-23", standard: "IO-3" };
/** At two with the wrong pipette, which is seen when the strength comes out double; an hour later with the right one. */
const wrongly = { hour: 14, minute: 0, took_ml: [10.06, 10.05, 10.07] };
const rightly = { hour: 15, minute: 5, took_ml: [20.11, 20.13, 20.1] };
const titrated = { day: -4, site: 4, took_ml: 6.4 };

/** Makes the solutions of a day through the same doors a person uses; by chances of their own. */
export async function prepareSolutions(demo: Demo, hands: Hands, day: number, hurried: Hands): Promise<void> {
  const by = must(demo.people[0]);
  for (const one of made.filter((m) => m.day === day)) {
    const { recipe } = must(await findRecipe(demo.db, one.recipe));
    let clock = demo.today.add(one.day, "day").hour(13).minute(40);
    const row: { id: string; document: string } = await demo.db("lots").where({ code: one.from }).first();
    const lot = lotSchema.parse(JSON.parse(row.document));
    const ingredient = must(recipe.ingredients[0]);
    const strength = "strength" in lot ? lot.strength : null;
    const parent: Parent = {
      ingredient: ingredient.key,
      lot_id: row.id,
      code: lot.code,
      name: lot.name,
      purity_percent: ("purity_percent" in lot && lot.purity_percent) || 100,
      strength: ingredient.ml_l === null ? null : strength,
    };
    const at = clock.toISOString();
    const work_id = hands.id(at);
    await startPreparation(
      demo.db,
      { work_id, event_id: hands.id(at), actor: by, at },
      recipe,
      one.volume_ml,
      [parent],
    );
    const begun: PreparationEvent = {
      type: "started",
      id: hands.id(at),
      at,
      by: by.id,
      recipe,
      volume_ml: one.volume_ml,
      parents: [parent],
    };
    const events: PreparationEvent[] = [begun];
    for (;;) {
      const { state } = replay(events, preparationFolding);
      const next = state && nextOf(state);
      if (!state || !next) break;
      clock = clock.add(3, "minute");
      const base = { id: hands.id(clock.toISOString()), at: clock.toISOString(), by: by.id };
      if (next.is === "ingredient") {
        const target = wanted(state, next.ingredient);
        // Nobody hits the number: what was weighed is written down.
        const off = target.unit === "g" ? 1 + 0.002 * gaussian(hands.random) : 1;
        const amount = Number((target.amount * off).toFixed(target.unit === "g" ? 3 : 2));
        const within = target.unit === "g" ? 0.001 : 0.02;
        events.push({ ...base, type: "taken", ingredient: next.ingredient.key, amount, within });
      } else if (next.is === "step") events.push({ ...base, type: "done", step: next.step.id });
      else events.push({ ...base, type: "finished", code: one.code, place: one.place });
    }
    const end = must(events.at(-1)).at;
    const posted = await postEvents(demo.db, by, work_id, events.slice(1), end);
    if (posted.refused) throw new Error(posted.refused.message);
  }
  if (day === standardised.day) {
    const wrong = await standardiseTitrant(demo, hurried, wrongly);
    const at = wrong.end.add(6, "minute").toISOString();
    await takeStandardisationOut(demo.db, wrong.id, "It was the pipette of 10 mL.", by, at);
    await standardiseTitrant(demo, hands, rightly);
    const [strong] = await lotsOfCodes(demo.db, [standardised.titrant]);
    demo.supplies.unshift(must(strong) as StoredLot<SupplyLot>);
  }
  if (day === titrated.day) {
    const begin = demo.today.add(day, "day").hour(15).minute(10);
    await runMethod({ ...demo, id: hands.id }, begin, {
      method: "oxygen-burette",
      site: must(demo.sites[titrated.site]),
      sample: sampleName(titrated.site, begin),
      by,
      temperature_c: 19.5,
      size: titrated.took_ml,
    });
    demo.counts.readings++;
  }
}

/** Holds the titrant against its standard, portion by portion; from then on it is the one that is taken. */
async function standardiseTitrant(
  demo: Demo,
  hands: Hands,
  { hour, minute, took_ml }: typeof rightly,
): Promise<{ id: string; end: Demo["today"] }> {
  const by = must(demo.people[0]);
  let clock = demo.today.add(standardised.day, "day").hour(hour).minute(minute);
  const [titrant] = await lotsOfCodes(demo.db, [standardised.titrant]);
  const asTitrant = must(titrant && (await titrantToStandardise(demo.db, titrant.id)));
  if (typeof asTitrant === "string") throw new Error(asTitrant);
  const standard = await standardNamed(demo.db, asTitrant.lot, standardised.standard, isoDay(clock));
  if (typeof standard === "string") throw new Error(standard);
  const at = clock.toISOString();
  const work_id = hands.id(at);
  await startStandardisation(
    demo.db,
    { work_id, event_id: hands.id(at), actor: by, at },
    asTitrant,
    standard,
    { portion_ml: 20, pipette_within_ml: 0.03, burette_within_ml: 0.03, place: "bench" },
  );
  const next = () => {
    clock = clock.add(7, "minute");
    return { id: hands.id(clock.toISOString()), at: clock.toISOString(), by: by.id };
  };
  const events: StandardisationEvent[] = [
    ...took_ml.map(
      (took): StandardisationEvent => ({
        ...next(),
        type: "titrated",
        what: "portion",
        start_ml: 0.35,
        end_ml: Number((0.35 + took).toFixed(2)),
      }),
    ),
    { ...next(), type: "finished" },
  ];
  const posted = await postEvents(demo.db, by, work_id, events, clock.toISOString());
  if (posted.refused) throw new Error(posted.refused.message);
  return { id: work_id, end: clock };
}
