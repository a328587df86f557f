import type dayjs from "dayjs";
import { postEvents } from "../app/server/bench/bench.server";
import type { Person } from "../app/server/people/people.server";
import { custodySamples, startBatch } from "../app/server/samples/batches.server";
import { dryRun, mappingFor, readLabFile, takeOver } from "../app/server/samples/labFile.server";
import { receiveSample } from "../app/server/samples/receiveSample.server";
import { samplesOfVisit } from "../app/server/samples/samples.server";
import type { NewEvent } from "../core/bench/event";
import { gaussian } from "../core/quantity/random";
import type { CustodyEvent } from "../core/samples/custodyEvents";
import { usualTests } from "../core/samples/labTests";
import type { Hands } from "./bench";
import { type Demo, must } from "./story";

/** Invented, like everything here. */
const laboratory = "Quarrydown Water Laboratory";

type Step = [minutes: number, happening: NewEvent<CustodyEvent>];

/**
 * The bottles of a visit go to the laboratory: by courier on ice, received in the evening. In the eighth week the ice was forgotten
 * and the cooler arrived warm; in the second the laboratory counted its bacteria too late.
 */
export async function sentToLaboratory(demo: Demo, hands: Hands, visit: string, week: number): Promise<void> {
  const by = must(demo.people[1]);
  const samples = await samplesOfVisit(hands.db, visit);
  const left = demo.today.add(daysOf(samples[0]?.collected_at, demo), "day").hour(16).minute(30);
  const warm = week === 8;
  const [work_id, event_id] = [hands.id(left.toISOString()), hands.id(left.toISOString())];
  const tests = Object.fromEntries(samples.map((s) => [s.id, usualTests[s.type_id] ?? []]));
  await startBatch(
    hands.db,
    { work_id, event_id, actor: by, at: left.toISOString() },
    {
      laboratory,
      programme: "Feed water, twice a season",
      contact: must(demo.people[3]).name,
      notes: "Hard, clear water; nothing known that harms.",
      holder: by.name,
    },
    await custodySamples(hands.db, tests),
  );
  const at = (minutes: number) => left.add(minutes, "minute");
  const hop = (minutes: number, from: string, to: string, temperature_c: number) => ({
    happened_at: at(minutes).toISOString(),
    from,
    to,
    temperature_c,
    seal: "intact" as const,
  });
  await post(hands, by, work_id, left, [
    [2, { type: "cooled", fresh_ice: !warm, temperature_c: warm ? 8.1 : 3.2 }],
    [12, { type: "handed-over", ...hop(12, by.name, "Courier", warm ? 8.3 : 3.4) }],
    [165, { type: "received", ...hop(150, "Courier", "T. Ravel", warm ? 9.4 : 4.6), absent: [] }],
  ]);
  const text = resultFile(hands, samples, left, week === 2);
  const came = left.add(9, "day").hour(10);
  const file = readLabFile(text);
  if ("message" in file) throw new Error(file.message);
  const mapping = await mappingFor(hands.db, laboratory, file.head);
  const tried = await dryRun(hands.db, work_id, file, mapping, came.toISOString());
  if ("message" in tried || tried.refused.length)
    throw new Error(`The laboratory's file: ${JSON.stringify(tried)}`);
  const name = `QWL-${left.format("YYMMDD")}.csv`;
  const refused = await takeOver(
    hands.db,
    work_id,
    { name, text },
    tried.results,
    mapping,
    must(demo.people[2]),
    came.toISOString(),
  );
  if (refused) throw new Error(refused);
  await post(hands, must(demo.people[2]), work_id, came, [[4, { type: "finished" }]]);
}

const daysOf = (at: string | undefined, demo: Demo): number =>
  Math.floor((Date.parse(must(at)) - demo.today.valueOf()) / 86_400_000);

async function post(
  hands: Hands,
  by: Person,
  work: string,
  begin: dayjs.Dayjs,
  steps: readonly Step[],
): Promise<void> {
  const events = steps.map(([minutes, happening]) => {
    const at = begin.add(minutes, "minute").toISOString();
    return { id: hands.id(at), at, by: by.id, ...happening };
  });
  const posted = await postEvents(hands.db, by, work, events, must(events.at(-1)).at);
  if (posted.refused) throw new Error(posted.refused.message);
}

/** What the laboratory sends: a table as text, with its own names. */
function resultFile(
  hands: Hands,
  samples: readonly { code: string; type_id: string }[],
  taken: dayjs.Dayjs,
  lateCount: boolean,
): string {
  const usual: Record<string, [name: string, value: number, unit: string, method: string, limit: number]> = {
    nitrate: ["NO3-N", 0.62, "mg/L", "ion chromatography", 0.05],
    nitrite: ["NO2-N", 0.004, "mg/L", "ion chromatography", 0.01],
    ammonia: ["NH4-N", 0.03, "mg/L", "continuous flow", 0.01],
    phosphate: ["PO4", 0.08, "mg/L", "continuous flow", 0.02],
    alkalinity: ["Alkalinity", 238, "mg/L", "titration", 5],
    chloride: ["Chloride", 24.5, "mg/L", "ion chromatography", 0.5],
    "suspended-solids": ["TSS", 1.4, "mg/L", "gravimetric", 1],
    "e-coli": ["Escherichia coli", 0, "MPN/100 mL", "most probable number", 1],
    enterococci: ["Intestinal enterococci", 2, "MPN/100 mL", "most probable number", 1],
  };
  const lines = samples.flatMap(({ code, type_id }) =>
    (usualTests[type_id] ?? []).map((parameter) => {
      const [name, middle, unit, method, limit] = must(usual[parameter]);
      const counted = unit.startsWith("MPN");
      const value = counted ? middle : middle * (1 + 0.04 * gaussian(hands.random));
      const written = value < limit ? `<${limit}` : counted ? String(value) : value.toPrecision(3);
      const analysed = taken.add(counted ? (lateCount ? 31 : 4) : 18, "hour");
      return [code, name, written, unit, method, limit, analysed.toISOString()].join(",");
    }),
  );
  return ["sample,parameter,result,unit,method,LOD,analysed", ...lines].join("\n");
}

/** This morning somebody brought a bottle from the children's pool: it waits for its tests. */
export async function broughtThisMorning(demo: Demo, hands: Hands, now: dayjs.Dayjs): Promise<void> {
  const taken = now.subtract(3, "hour");
  const site = must(demo.sites[5]);
  const errors = await receiveSample(
    hands.db,
    {
      id: hands.id(taken.toISOString()),
      code: `CP-${taken.format("MMDD")}-A`,
      site: site.id,
      type: "general",
      collected_at: taken.toISOString(),
      from: "The lifeguard of the children's pool",
      temperature_c: 5.1,
      note: "A little cloudy near the steps.",
      methods: ["alkalinity-burette", "hardness-digits", "phosphate-photometer"],
    },
    must(demo.people[0]),
    now.subtract(1, "hour").toISOString(),
  );
  if (errors) throw new Error(JSON.stringify(errors));
}
