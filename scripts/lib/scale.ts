/** Times the server on databases of many readings: pages, questions of the ledger, a post, exports, re-judging. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { join } from "node:path";
import type { Knex } from "knex";
import { monotonicFactory } from "ulid";
import { bytesOf, calledPlace, openDatabase } from "../../app/server/platform/engine.server";
import { ledgerPage, ledgerQuerySchema } from "../../app/server/results/ledger.server";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { dayBounds } from "../../core/time/zone";
import { rejudged, timeBackup, timeExport, timeRejudging } from "./besideWork";
import { median } from "./median";
import { signIn } from "./signIn";

/** What is run: drops that are counted, as at any bench. */
const method = libraryMethod("oxygen-drops");

const port = 4198;
const base = `http://127.0.0.1:${port}`;

async function timed(work: () => Promise<unknown>, times = 9): Promise<number> {
  const all: number[] = [];
  for (let i = 0; i < times + 2; i++) {
    const begun = performance.now();
    await work();
    // The first two warm it up.
    if (i >= 2) all.push(performance.now() - begun);
  }
  return median(all);
}

async function started(place: string): Promise<ChildProcess> {
  const env = {
    ...process.env,
    BRINTEL_DATABASE: place,
    NODE_ENV: "production",
    PORT: String(port),
    BRINTEL_LOG: "error",
    // A server makes its first backup a minute after its start: into the middle of what is measured. It is measured by itself.
    BRINTEL_BACKUP_HOURS: "0",
  };
  const server = spawn(process.execPath, ["server.mjs"], { env, stdio: ["ignore", "ignore", "inherit"] });
  for (let i = 0; i < 300; i++) {
    if (
      await fetch(`${base}/health`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return server;
    await new Promise((wait) => setTimeout(wait, 200));
  }
  throw new Error("The server did not start.");
}

/** A question of the ledger: as a page asks it, and as somebody would who writes the SQL by hand. */
interface Question {
  name: string;
  query: Record<string, string>;
  where: string;
  order: string;
}

const questions = (from: string, to: string): Question[] => [
  { name: "ledger, newest", query: {}, where: "1 = 1", order: "measured_at desc, id desc" },
  { name: "ledger, last page", query: { end: "last" }, where: "1 = 1", order: "measured_at, id" },
  {
    name: "ledger by value",
    query: { sort: "value" },
    where: "value is not null",
    order: "value desc, id desc",
  },
  {
    name: "one week of pH",
    query: { parameter: "ph", from, to },
    where: `parameter = 'ph' and measured_at >= '${from}' and measured_at <= '${to}T23:59:59.999Z'`,
    order: "measured_at desc, id desc",
  },
  {
    name: "samples that begin with",
    query: { text: "bp-0" },
    where: "(sample_key || '') >= 'bp-0' and (sample_key || '') < 'bp-1'",
    order: "measured_at desc, id desc",
  },
  {
    name: "held readings",
    query: { verdict: "held" },
    where: "verdict = 'held'",
    order: "measured_at desc, id desc",
  },
];

/** By hand: how many there are, up to what the ledger counts, and the first forty with what they point to. */
const byHand = ({ where, order }: Question): string[] => [
  `select count(*) from (select id from readings where ${where} limit 10001) as found`,
  `select r.*, s.name as site, m.code as meter, p.name as by_name
   from (select * from readings where ${where} order by ${order} limit 40) as r
   join sites s on s.id = r.site_id left join meters m on m.id = r.meter_id join people p on p.id = r.person_id`,
];

/** What the store needs for each question beside the same SQL by hand, in ms. */
async function timeQuestions(db: Knex, asked: readonly Question[]): Promise<Map<string, [number, number]>> {
  const days = dayBounds("UTC");
  const times = new Map<string, [number, number]>();
  for (const question of asked) {
    const query = ledgerQuerySchema.parse(question.query);
    const store = await timed(() => ledgerPage(db, query, days));
    const bare = await timed(async () => {
      for (const sql of byHand(question)) await db.raw(sql);
    });
    times.set(question.name, [store, bare]);
  }
  return times;
}

/** Prints what one database of so many readings gives. */
export async function timeScale(place: string): Promise<void> {
  const db = await openDatabase(place, { migrate: false });
  const first = async (q: Knex.QueryBuilder): Promise<Record<string, string>> => (await q.first()) ?? {};
  const readings = Number((await db("readings").count({ n: "*" }).first())?.n);
  const meter = (await first(db("meters").where({ code: "M-1" }))).id ?? "";
  const lot = (await first(db("lot_uses").orderBy("at", "desc"))).lot_id ?? "";
  const site = (await first(db("latest_readings").orderBy("measured_at", "desc"))).site_id ?? "";
  const newest = await first(db("readings").orderBy("measured_at", "desc"));
  const check = (await first(db("checks").where({ passed: false }).orderBy("at", "desc"))).work_id ?? "";
  const ofKind = (change: object) => first(db("readings").where(change).orderBy("measured_at", "desc"));
  const run = (await ofKind({ source: "analysis", kind: "sample" })).id;
  const {
    subject_code: code = "",
    parameter = "",
    analyte = "",
    instrument_id: by = "",
  } = await ofKind({ kind: "control" });
  const control = { code, parameter, analyte, by };
  const to = (newest.measured_at ?? "").slice(0, 10);
  const from = new Date(Date.parse(to) - 7 * 86_400_000).toISOString().slice(0, 10);
  const asked = questions(from, to);
  console.log(
    `\n${calledPlace(place)}: ${readings.toLocaleString("en")} readings, ${((await bytesOf(db)) / readings / 1000).toFixed(2)} kB each`,
  );
  const times = await timeQuestions(db, asked);
  await db.destroy();
  const server = await started(place);
  try {
    const cookie = await signIn(base, "Noor");
    const get = async (path: string) => {
      const response = await fetch(base + path, { headers: { Cookie: cookie } });
      const text = await response.text();
      if (!response.ok || response.redirected) throw new Error(`${path} answered ${response.status}`);
      return text;
    };
    const pages: [string, string][] = [
      ["day", "/"],
      ["rail", "/rail"],
      ["meters", "/meters"],
      ["meter", `/meters/${meter}`],
      ["start calibration", `/meters/${meter}/calibrate`],
      ["start reading", `/meters/${meter}/read`],
      ["check that failed", `/checks/${check}`],
      ["start run", "/runs/new/phosphate-photometer"],
      ["runs", "/runs"],
      ["what is due", "/due"],
      ["stock", "/stock"],
      ["lot", `/stock/${lot}`],
      ["sites", "/sites"],
      ["site", `/sites/${site}`],
      ["small lines of the day", "/trends"],
      ["house rules", "/rules"],
      ["jump", "/jump"],
      ...asked.map(({ name, query }): [string, string] => [name, `/ledger?${new URLSearchParams(query)}`]),
      ["ledger in a chart", "/ledger?parameter=ph&chart=1"],
      ["ledger with evidence", `/ledger?reading=${newest.id}`],
      ["ledger with a run", `/ledger?reading=${run}`],
      ["checks", "/quality"],
      ["chart of a control", `/quality/chart?${new URLSearchParams(control)}`],
    ];
    for (const [name, path] of pages) {
      const ms = await timed(() => get(path));
      const [store, bare] = times.get(name) ?? [];
      const beside =
        store && bare
          ? `   store ${store.toFixed(2).padStart(8)} ms, by hand ${bare.toFixed(2).padStart(8)} ms, ${(store / bare).toFixed(1)} times`
          : "";
      console.log(`${name.padEnd(26)}${ms.toFixed(1).padStart(8)} ms${beside}`);
    }
    await timePosts(cookie, get);
    const running = { base, pid: server.pid, get, cookie };
    await timeExport(running, readings);
    await timeBackup(running, place);
    if (readings > rejudged) await timeRejudging(running, place);
  } finally {
    server.kill();
  }
}

/** Begins a run of the method from its form, and gives its address for events. */
async function begunRun(cookie: string, get: (path: string) => Promise<string>): Promise<string> {
  const start = await get(`/runs/new/${method.id}`);
  const field = (name: string) => new RegExp(`name="${name}"[^>]*value="([^"]*)"`).exec(start)?.[1] ?? "";
  const work = field("work");
  const site = field("site");
  await fetch(`${base}/runs/new/${method.id}`, {
    method: "POST",
    redirect: "manual",
    headers: { Cookie: cookie, Origin: base },
    body: new URLSearchParams({ work, event: field("event"), site, sample: "scale" }),
  });
  return `${base}/bench/${work}/events`;
}

async function posted(door: string, cookie: string, events: readonly object[]): Promise<void> {
  const answer = await fetch(door, {
    method: "POST",
    headers: { Cookie: cookie, Origin: base, "Content-Type": "application/json" },
    body: JSON.stringify({ sent_at: new Date().toISOString(), events }),
  });
  const { answers } = (await answer.json()) as { answers: { is: string; message?: string }[] };
  const refused = answers.find((a) => a.is !== "kept");
  if (refused) throw new Error(`An event was not kept: ${refused.message}`);
}

/** What one event takes, and the end of a whole run, which writes its result and judges what rests on it. */
async function timePosts(cookie: string, get: (path: string) => Promise<string>): Promise<void> {
  const print = (name: string, ms: number) =>
    console.log(`${name.padEnd(26)}${ms.toFixed(1).padStart(8)} ms`);
  const open = await begunRun(cookie, get);
  const ulid = monotonicFactory();
  const now = () => ({ id: ulid(), at: new Date().toISOString() });
  print(
    "post of one event",
    await timed(() => posted(open, cookie, [{ ...now(), type: "noted", text: "still here" }])),
  );
  const ends: number[] = [];
  for (let i = 0; i < 11; i++) {
    const door = await begunRun(cookie, get);
    const { events } = new RunPlayer(method).play(6 + i / 4);
    const own = events.slice(1).map((event) => ({ ...event, ...now() }));
    await posted(door, cookie, own.slice(0, -1));
    const begun = performance.now();
    await posted(door, cookie, own.slice(-1));
    // The first two warm it up.
    if (i >= 2) ends.push(performance.now() - begun);
  }
  print("end of a run", median(ends));
}

/** Makes a database of so many readings, unless it is there. */
export function makeScale(folder: string, readings: number): string {
  const file = join(folder, `scale-${readings}.sqlite`);
  if (!existsSync(file)) {
    const env = { ...process.env, BRINTEL_DATABASE: file, NODE_ENV: "production" };
    execFileSync(process.execPath, ["scripts/run.mjs", "scripts/seed.ts", `--readings=${readings}`], {
      env,
      stdio: "inherit",
    });
  }
  return file;
}
