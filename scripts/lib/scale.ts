/** Times the server on databases of many readings: pages, questions of the ledger, a post, exports, re-judging. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { existsSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { ulid } from "ulid";
import { signIn } from "./signIn";

const port = 4198;
const base = `http://127.0.0.1:${port}`;

const median = (values: number[]) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? Number.NaN;

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

async function started(file: string): Promise<ChildProcess> {
  const env = {
    ...process.env,
    BRINTEL_DATABASE: file,
    NODE_ENV: "production",
    PORT: String(port),
    BRINTEL_LOG: "error",
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

/** The same questions to the file itself, without the program. */
const bare: Record<string, string> = {
  "ledger, newest": "select * from readings order by measured_at desc, id desc limit 40",
  "ledger, last page": "select * from readings order by measured_at, id limit 40",
  "ledger by value": "select * from readings where value is not null order by value desc, id desc limit 40",
  "one week of pH":
    "select * from readings where parameter = 'ph' and measured_at >= $from and measured_at <= $to order by measured_at desc, id desc limit 40",
  "samples that begin with":
    "select * from readings where sample_key >= 'bp-0' and sample_key < 'bp-1' order by measured_at desc, id desc limit 40",
  "held readings":
    "select * from readings where verdict = 'held' order by measured_at desc, id desc limit 40",
};

function timeBare(file: string, from: string, to: string): Record<string, number> {
  const db = new Sqlite(file, { readonly: true });
  const result: Record<string, number> = {};
  for (const [name, sql] of Object.entries(bare)) {
    const statement = db.prepare(sql);
    const values = sql.includes("$from") ? [{ from, to }] : [];
    const all: number[] = [];
    for (let i = 0; i < 7; i++) {
      const begun = performance.now();
      statement.all(...values);
      all.push(performance.now() - begun);
    }
    result[name] = median(all);
  }
  db.close();
  return result;
}

const residentMB = (pid: number | undefined) => {
  const status = `/proc/${pid}/status`;
  if (!pid || !existsSync(status)) return Number.NaN;
  return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(status, "utf8"))?.[1] ?? Number.NaN) / 1024;
};

/** Prints what one database of so many readings gives. */
export async function timeScale(file: string): Promise<void> {
  const db = new Sqlite(file, { readonly: true });
  const readings = (db.prepare("select count(*) n from readings").get() as { n: number }).n;
  const one = (sql: string) => db.prepare(sql).get() as Record<string, string>;
  const meter = one("select id from meters where code = 'M-1'").id ?? "";
  const lot = one("select lot_id id from lot_uses order by at desc limit 1").id ?? "";
  const site = one("select site_id id from latest_readings order by measured_at desc limit 1").id ?? "";
  const newest = one("select measured_at at, id from readings order by measured_at desc limit 1");
  const check = one("select work_id id from checks where passed = 0 order by at desc limit 1").id ?? "";
  const run = one(
    "select id from readings where source = 'analysis' and kind = 'sample' order by measured_at desc limit 1",
  ).id;
  const control = one(
    "select subject_code code, parameter, analyte, instrument_id as 'by' from readings where kind = 'control' order by measured_at desc limit 1",
  );
  db.close();
  const to = (newest.at ?? "").slice(0, 10);
  const from = new Date(Date.parse(to) - 7 * 86_400_000).toISOString().slice(0, 10);
  console.log(
    `\n${readings.toLocaleString("en")} readings, ${(statSync(file).size / readings / 1000).toFixed(2)} kB each`,
  );
  const sql = timeBare(file, from, `${to}Z`);
  const server = await started(file);
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
      ["stock", "/stock"],
      ["lot", `/stock/${lot}`],
      ["sites", "/sites"],
      ["site", `/sites/${site}`],
      ["small lines of the day", "/trends"],
      ["house rules", "/rules"],
      ["jump", "/jump"],
      ["ledger, newest", "/ledger"],
      ["ledger, last page", "/ledger?end=last"],
      ["ledger by value", "/ledger?sort=value"],
      ["one week of pH", `/ledger?parameter=ph&from=${from}&to=${to}`],
      ["samples that begin with", "/ledger?text=bp-0"],
      ["held readings", "/ledger?verdict=held"],
      ["ledger in a chart", "/ledger?parameter=ph&chart=1"],
      ["ledger with evidence", `/ledger?reading=${newest.id}`],
      ["ledger with a run", `/ledger?reading=${run}`],
      ["checks", "/quality"],
      ["chart of a control", `/quality/chart?${new URLSearchParams(control)}`],
    ];
    for (const [name, path] of pages) {
      const ms = await timed(() => get(path));
      const plain = sql[name];
      console.log(
        `${name.padEnd(26)}${ms.toFixed(1).padStart(8)} ms${plain === undefined ? "" : `   bare SQL ${plain.toFixed(2).padStart(8)} ms`}`,
      );
    }
    await timePost(cookie, get);
    await timeExport(cookie, readings, server.pid, get);
  } finally {
    server.kill();
  }
}

async function timePost(cookie: string, get: (path: string) => Promise<string>): Promise<void> {
  const start = await get("/runs/new/oxygen-drops");
  const field = (name: string) => new RegExp(`name="${name}"[^>]*value="([^"]*)"`).exec(start)?.[1] ?? "";
  const work = field("work");
  const site = field("site");
  await fetch(`${base}/runs/new/oxygen-drops`, {
    method: "POST",
    redirect: "manual",
    headers: { Cookie: cookie, Origin: base },
    body: new URLSearchParams({ work, event: field("event"), site, sample: "scale" }),
  });
  const post = async () => {
    const event = { id: ulid(), at: new Date().toISOString(), type: "noted", text: "still here" };
    const answer = await fetch(`${base}/bench/${work}/events`, {
      method: "POST",
      headers: { Cookie: cookie, Origin: base, "Content-Type": "application/json" },
      body: JSON.stringify({ sent_at: new Date().toISOString(), events: [event] }),
    });
    const { answers } = (await answer.json()) as { answers: { is: string }[] };
    if (answers[0]?.is !== "kept") throw new Error("The event was not kept.");
  };
  console.log(`${"post of one event".padEnd(26)}${(await timed(post)).toFixed(1).padStart(8)} ms`);
}

/** The export of everything, how much memory it takes, and how long the day's page takes meanwhile. */
async function timeExport(
  cookie: string,
  readings: number,
  pid: number | undefined,
  get: (path: string) => Promise<string>,
): Promise<void> {
  const before = residentMB(pid);
  let most = before;
  let done = false;
  const watch = (async () => {
    const days: number[] = [];
    while (!done) {
      const begun = performance.now();
      await get("/");
      days.push(performance.now() - begun);
      most = Math.max(most, residentMB(pid));
      await new Promise((wait) => setTimeout(wait, 100));
    }
    return days;
  })();
  const begun = performance.now();
  const response = await fetch(`${base}/ledger/export.csv`, { headers: { Cookie: cookie } });
  let bytes = 0;
  for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) bytes += chunk.length;
  const seconds = (performance.now() - begun) / 1000;
  done = true;
  const days = await watch;
  console.log(
    `export of all: ${seconds.toFixed(1)} s, ${((seconds / readings) * 100_000).toFixed(1)} s per 100 000 rows, ${(bytes / 1e6).toFixed(0)} MB, ` +
      `${(most - before).toFixed(0)} MB more memory; day page meanwhile ${median(days).toFixed(0)} ms (slowest ${Math.max(...days).toFixed(0)})`,
  );
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
