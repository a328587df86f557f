import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { seededRandom } from "../../../core/quantity/random";
import { bottleTypes } from "../../../core/samples/bottleTypes";
import { noPlan } from "../../../core/samples/visitEvents";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { postEvents } from "../bench/bench.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { voidResults } from "../bench/void.server";
import { amendReading } from "../review/amend.server";
import { openTestRun, postPlayed } from "../testing/benchRun";
import {
  calibratedPh,
  calibratedPond,
  openTestBench,
  phReading,
  pondReading,
  type TestBench,
} from "../testing/testBench";
import { testedOn } from "../testing/testDatabase";
import { startVisit } from "../visits/visits.server";
import { custodySamples, startBatch } from "./batches.server";
import { receiveSample } from "./receiveSample.server";

/** So many minutes after eight. */
const at = (min: number) => new Date(Date.parse("2026-04-12T08:00:00.000Z") + min * 60_000).toISOString();
/** When everything has come to be known. */
const evening = at(1400);

/** Something that was done at its moment; it may come to be known later than what came after it, but not before what it follows. */
interface Done {
  label: string;
  keep(bench: TestBench): Promise<unknown>;
  follows?: Done;
}

const chosen = bottleTypes.filter((t) => t.id === "general" || t.id === "nutrients-filtered").reverse();

type Sample = { id: string; code: string };

/** A visit that begins at a minute and fills two bottles, and what is known of it only later: a bubble, a filter, ice, its end. */
function visit(from: number, code: string, chance: (share: number) => boolean): Done[] {
  const work = ulid(Date.parse(at(from)));
  let n = 0;
  const event = (min: number, what: object) => ({
    id: ulid(Date.parse(at(from + min)) + n++),
    at: at(from + min),
    by: "x",
    ...what,
  });
  const samples = [code, `${code}-N`].map((c, i) => ({ id: ulid(Date.parse(at(from)) + i), code: c }));
  const fill = (bottle: number) => ({ type: "filled", bottle, sample: samples[bottle], depth_cm: 15 });
  const first = [
    event(1, { type: "arrived", people: "Noor" }),
    ...[0, 0, 0, 1, 1, 1].slice(chance(0.3) ? 1 : 0).map((bottle) => event(2, { type: "rinsed", bottle })),
    event(4, fill(0)),
    event(5, fill(1)),
  ];
  const more = [
    ...(chance(0.3) ? [event(6, { type: "bubble", bottle: 0 }), event(9, fill(0))] : []),
    ...(chance(0.7) ? [event(10, { type: "filtered", bottle: 1, outcome: "filtered" })] : []),
    ...(chance(0.5) ? [event(11, { type: "stored", bottle: 1 })] : []),
    event(14, { type: "finished" }),
  ];
  const send = async ({ db, person }: TestBench, events: object[]) => {
    const posted = await postEvents(db, person, work, events, evening);
    if (posted.refused) throw new Error(posted.refused.message);
  };
  const begun: Done = {
    label: `visit for ${code}`,
    async keep(bench) {
      const { db, person, site } = bench;
      const start = { work_id: work, event_id: ulid(Date.parse(at(from))), actor: person, at: at(from) };
      await startVisit(db, start, site, { ...noPlan, bottles: chosen });
      await send(bench, first);
    },
  };
  return [
    begun,
    { label: `rest of it, ${code}`, follows: begun, keep: (bench) => send(bench, more) },
    ...(chance(0.5) ? toLaboratory(from + 30, begun, samples, chance) : []),
  ];
}

/** A bottle that was filled at a minute and brought. */
function brought(from: number, code: string, temperature_c: number): Done {
  const id = ulid(Date.parse(at(from)));
  const bottle = { id, code, type: "general", collected_at: at(from), temperature_c, from: "The lifeguard" };
  const more = { note: "", methods: ["phosphate-photometer"] };
  return {
    label: `bottle ${code}`,
    keep: ({ db, person, site }) => receiveSample(db, { ...bottle, ...more, site: site.id }, person, evening),
  };
}

/** The bottles of a visit on their way to a laboratory: the batch, its way, and what the laboratory sends, once or corrected. */
function toLaboratory(
  from: number,
  begun: Done,
  samples: Sample[],
  chance: (share: number) => boolean,
): Done[] {
  const work = ulid(Date.parse(at(from)) + 1);
  const send = async ({ db, person }: TestBench, min: number, what: object) => {
    const event = { id: ulid(Date.parse(at(from + min))), at: at(from + min), by: "x", ...what };
    const posted = await postEvents(db, person, work, [event], evening);
    if (posted.refused) throw new Error(posted.refused.message);
  };
  const batch = { laboratory: "Marsh Lane", programme: "", contact: "", notes: "", holder: "Noor" };
  const hop = (min: number, giver: string, to: string) => ({
    happened_at: at(from + min),
    from: giver,
    to,
    temperature_c: chance(0.6) ? 4 : 11,
    seal: "intact",
  });
  const nitrate = { parameter: "nitrate", analyte: "Nitrate", species: "NO3-N", unit: "mg/L", decimals: 2 };
  const result = (sample: Sample | undefined, value: number, measured: number) => ({
    ...nitrate,
    sample_id: sample?.id,
    found: { kind: "value", value },
    written: String(value),
    written_unit: "mg/L",
    method: "IC",
    detection_limit: 0.05,
    measured_at: at(from + measured),
    line: 2,
  });
  const file = (letter: string) => ({ name: "a.csv", sha256: letter.repeat(64) });
  const handed = hop(20, chance(0.8) ? "Noor" : "Idris", "Courier");
  const received = { ...hop(60, "Courier", "T. Ravel"), absent: [] };
  const made: Done = {
    label: "batch",
    follows: begun,
    async keep({ db, person }) {
      const start = { work_id: work, event_id: ulid(Date.parse(at(from))), actor: person, at: at(from) };
      const wanted = Object.fromEntries(samples.map((s) => [s.id, ["nitrate"]]));
      await startBatch(db, start, batch, await custodySamples(db, wanted));
    },
  };
  const after = (label: string, keep: Done["keep"]): Done => ({ label, follows: made, keep });
  return [
    made,
    after("handed over", (bench) => send(bench, 25, { type: "handed-over", ...handed })),
    ...(chance(0.8)
      ? [after("received", (bench) => send(bench, 65, { type: "received", ...received }))]
      : []),
    after("results", (bench) =>
      send(bench, 300, {
        type: "results",
        file: file("a"),
        results: samples.map((s) => result(s, 4.12, 200)),
      }),
    ),
    ...(chance(0.4)
      ? [
          after("a correction", (bench) =>
            send(bench, 400, { type: "results", file: file("b"), results: [result(samples[1], 4.4, 200)] }),
          ),
        ]
      : []),
  ];
}

/** What comes of a result later. */
type Later = "nothing" | "taken out" | { name: string };

/** What is measured at a minute under a name, by chance, and taken out or given another name where somebody says so. */
function measured(from: number, code: string, kind: number, value: number, later: Later): Done[] {
  let work = "";
  const made: Done =
    kind < 0.3
      ? {
          label: `pH of ${code}`,
          async keep(bench) {
            work = await phReading(bench, 40 * value - 20, at(from), code);
          },
        }
      : kind < 0.6
        ? {
            label: `pond of ${code}`,
            async keep(bench) {
              const water = { conductivity: 500 + 200 * value, ph: -62, oxygen: 85 };
              work = await pondReading(bench, water, at(from), code);
            },
          }
        : {
            label: `test of ${code}`,
            async keep(bench) {
              const method = libraryMethod(kind < 0.8 ? "ammonia-salicylate" : "phosphate-photometer");
              work = ulid(Date.parse(at(from)));
              await openTestRun(bench, method, at(from), { work, sample: code });
              const { events } = new RunPlayer(method, {}, Date.parse(at(from))).play(0.2 + 0.6 * value);
              const posted = await postPlayed(bench, work, events, at(from));
              if (posted.refused) throw new Error(posted.refused.message);
            },
          };
  if (later === "nothing") return [made];
  if (later === "taken out")
    return [
      made,
      {
        label: `${made.label} taken out`,
        follows: made,
        keep: ({ db, person }) => voidResults(db, person, work, "the wrong vial", evening),
      },
    ];
  const renamed: Done = {
    label: `${made.label} was ${later.name}`,
    follows: made,
    async keep({ db, person }) {
      const rows: { id: string }[] = await db("readings")
        .where({ work_id: work })
        .whereNot({ source: "derived" })
        .orderBy("id")
        .select("id");
      for (const { id } of rows) {
        const { judgements: judgement } = await db("readings").where({ id }).first("judgements");
        const text = later.name;
        const said = await amendReading(
          db,
          id,
          { what: "sample", text, reason: "misread", judgement },
          person,
          evening,
        );
        if (said) throw new Error(said);
      }
    },
  };
  return [made, renamed];
}

/** A day: visits that fill bottles, bottles that are brought, and what is measured under their names; some names are borne twice. */
function day(random: () => number): Done[] {
  const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
  const names = ["BP-1", "BP-1-N", "BP-2", "BP-2-N", "R-3", "R-6"];
  let minute = 0;
  return Array.from({ length: 9 }, (_, i) => {
    minute += whole(15, 120);
    const kind = random();
    const name = names[whole(0, names.length - 1)] as string;
    if (kind < 0.3) return visit(minute, `BP-${whole(1, 2)}`, (share) => random() < share);
    if (i === 3 || i === 6) return [brought(minute, `R-${i}`, whole(3, 14))];
    const other = names[whole(0, names.length - 1)] as string;
    const chance = random();
    const later = chance < 0.2 ? "taken out" : chance < 0.4 && other !== name ? { name: other } : "nothing";
    return measured(minute, name, random(), random(), later);
  })
    .flat()
    .map((one, i) => Object.assign(one, { label: `${i} ${one.label}` }));
}

/** An order by chance in which nothing comes to be known before what it follows. */
function shuffled(done: readonly Done[], random: () => number): Done[] {
  const order = [...done].map((one) => ({ one, key: random() })).sort((a, b) => a.key - b.key);
  const known: Done[] = [];
  const add = (one: Done) => {
    if (one.follows) add(one.follows);
    if (!known.includes(one)) known.push(one);
  };
  for (const { one } of order) add(one);
  return known;
}

/** What ledger and register say once everything came to be known in some order. */
async function recordAfter(order: readonly Done[]): Promise<Record<string, string>> {
  const bench = await openTestBench();
  const { db } = bench;
  await calibratedPh(bench, at(-30));
  await calibratedPond(bench, at(-20));
  for (const one of order) await one.keep(bench);
  expect(await verifyJournal(db)).toBeNull();
  const said: Record<string, string> = {};
  const readings: Record<string, string>[] = await db("readings")
    .leftJoin("samples", "samples.id", "readings.sample_id")
    .join("bench_work", "bench_work.id", "readings.work_id")
    .select("readings.*", "samples.collected_at as filled_at", "samples.type_id", "bench_work.started_at");
  for (const r of readings) {
    // What was reckoned before something of it was taken out, or its pH was known to be of other water, stays and counts no longer; in another
    // order it is never reckoned.
    if (r.source === "derived" && (r.verdict === "held" || r.verdict === "void")) continue;
    const sentences = (JSON.parse(r.findings ?? "") as { sentence: string }[]).map((f) => f.sentence);
    const facts = [r.value, r.verdict, r.collected_at, r.filled_at, r.type_id, ...sentences];
    said[`${r.started_at} ${r.measured_at} ${r.parameter} ${r.sample}`] = facts.join(" | ");
  }
  for (const s of await db("samples"))
    said[`${s.collected_at} ${s.code}`] = [s.status, s.verdict, s.waits_until, s.findings].join(" | ");
  await db.destroy();
  return said;
}

describe("ledger and register", () => {
  it("say the same of each result and each bottle in whatever order things come to be known", async () => {
    const random = seededRandom(Number(process.env.DAYS_SEED ?? 5));
    for (let i = 0; i < Number(process.env.DAYS ?? (testedOn === "PostgreSQL" ? 1 : 4)); i++) {
      const done = day(random);
      const inTime = await recordAfter(done);
      for (const order of [shuffled(done.toReversed(), () => 0), shuffled(done, random)])
        expect(await recordAfter(order), order.map((o) => o.label).join(", ")).toEqual(inTime);
    }
  });
});
