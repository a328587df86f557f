/**
 * Prints, and asserts nothing: server time of each page with the demo data, script and style by route (gzipped),
 * and how many calculations the command line answers a second.
 */
import { type ChildProcess, execFileSync, spawn, spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { openDatabase } from "../app/server/platform/engine.server";
import { confirmRejudging } from "../app/server/results/rejudge.server";
import { previewRejudging } from "../app/server/results/rejudgeChanges.server";
import { runRejudging } from "../app/server/results/rejudgeRun.server";
import { fillWithReadings } from "../app/server/testing/manyReadings";
import { calibratedPond, checkedPond, openTestBench, pondReading } from "../app/server/testing/testBench";
import { makeBusyVisit } from "./lib/busyVisit";
import { measureFirstVisits } from "./lib/firstVisits";
import { measureLongTasks, measureOpening } from "./lib/longTasks";
import { median } from "./lib/median";
import { signIn } from "./lib/signIn";
import { ensureBuild } from "./lib/steps.mjs";
import { timeImport } from "./lib/timeImport";
import { timePlanner } from "./lib/timePlanner";
import { timeWithdrawal } from "./lib/timeWithdrawal";

const port = 4199;
const base = `http://127.0.0.1:${port}`;

/** Where somebody may come in for the first time. */
const areas = [
  "/",
  "/due",
  "/meters",
  "/visits",
  "/samples",
  "/custody",
  "/runs",
  "/runs/plan",
  "/solutions",
  "/stock",
  "/quality",
  "/ledger",
  "/sites",
  "/sites/limits",
  "/rules",
  "/people",
  "/review",
  "/imports",
  "/upkeep",
];

async function waitUntilUp(server: ChildProcess): Promise<void> {
  for (let i = 0; i < 100 && server.exitCode === null; i++) {
    const up = await fetch(`${base}/health`).then(
      (r) => r.ok,
      () => false,
    );
    if (up) return;
    await new Promise((wait) => setTimeout(wait, 100));
  }
  throw new Error("The server did not start.");
}

async function timePage(
  path: string,
  cookie: string,
): Promise<{ ms: number; slowest: number; html: string }> {
  let html = "";
  const times: number[] = [];
  for (let i = 0; i < 30; i++) {
    const begun = performance.now();
    const response = await fetch(base + path, { headers: { Cookie: cookie } });
    html = await response.text();
    if (!response.ok || response.redirected) throw new Error(`${path} answered ${response.status}`);
    // The first ten warm the server up.
    if (i >= 10) times.push(performance.now() - begun);
  }
  return { ms: median(times), slowest: Math.max(...times), html };
}

function weigh(html: string): { script: number; style: number } {
  const files = [...new Set([...html.matchAll(/\/(assets\/[\w.-]+\.(?:js|css))/g)].map((m) => m[1] ?? ""))];
  const size = (ending: string) =>
    files
      .filter((f) => f.endsWith(ending))
      .reduce((sum, f) => sum + gzipSync(readFileSync(join("build/client", f))).length, 0) / 1000;
  return { script: size(".js"), style: size(".css") };
}

/** How long a failed closing check takes to re-judge ten thousand readings, in a worker as the server does it. */
async function timeRejudging(): Promise<void> {
  const scratch = mkdtempSync(join(tmpdir(), "brintel-rejudge-"));
  const file = join(scratch, "bench.sqlite");
  const bench = await openTestBench(file);
  const at = (hour: string) => `2026-04-12T${hour}:00:00.000Z`;
  await calibratedPond(bench, at("08"));
  const model = await pondReading(bench, { conductivity: 600, ph: -62, oxygen: 85 }, at("09"));
  await fillWithReadings(bench.db, `${model}-ph`, 10_000, at("09"), at("15"));
  const subject_id = await checkedPond(bench, { conductivity: 718, ph: -17.75, oxygen: 90 }, at("16"));
  const seen = performance.now();
  await previewRejudging(bench.db, { kind: "check", subject_id });
  const previewed = performance.now();
  const id = await confirmRejudging(bench.db, { kind: "check", subject_id }, "bench", bench.person, at("16"));
  await bench.db.destroy();
  const db = await openDatabase(file);
  const begun = performance.now();
  await runRejudging(db, id, at("17"));
  const done = performance.now();
  await db.destroy();
  rmSync(scratch, { recursive: true });
  console.log(
    `\n10 000 readings after a failed check: preview ${((previewed - seen) / 1000).toFixed(2)} s, re-judged and written ${((done - begun) / 1000).toFixed(2)} s`,
  );
}

const cell = (text: string | number, width: number) => String(text).padStart(width);

await ensureBuild();
const folder = mkdtempSync(join(tmpdir(), "brintel-bench-"));
const env = {
  ...process.env,
  BRINTEL_DATABASE: join(folder, "bench.sqlite"),
  NODE_ENV: "production",
  PORT: String(port),
};
execFileSync(process.execPath, ["scripts/run.mjs", "scripts/seed.ts"], { env });
const server = spawn(process.execPath, ["server.mjs"], { env, stdio: "ignore" });
try {
  await waitUntilUp(server);
  const cookie = await signIn(base, "Noor");
  const home = await (await fetch(`${base}/meters`, { headers: { Cookie: cookie } })).text();
  // The pond meter has most to show.
  const meter = /\/meters\/(\w{26})"[^>]*>M-1/.exec(home)?.[1] ?? "";
  const meterPage = await (await fetch(`${base}/meters/${meter}`, { headers: { Cookie: cookie } })).text();
  const calibration = /\/calibrations\/\w{26}/.exec(meterPage)?.[0] ?? "";
  const check = /\/checks\/\w{26}/.exec(meterPage)?.[0] ?? "";
  const ledger = await (await fetch(`${base}/ledger`, { headers: { Cookie: cookie } })).text();
  const reading = /reading=(\w{26}-[a-z]+)/.exec(ledger)?.[1] ?? "";
  const runs = await (await fetch(`${base}/runs`, { headers: { Cookie: cookie } })).text();
  const run = /\/runs\/\w{26}/.exec(runs)?.[0] ?? "";
  const stock = await (await fetch(`${base}/stock`, { headers: { Cookie: cookie } })).text();
  const lot = /\/stock\/(\w{26})/.exec(stock)?.[1] ?? "";
  const batches = await (await fetch(`${base}/custody`, { headers: { Cookie: cookie } })).text();
  const batch = /\/custody\/\w{26}/.exec(batches)?.[0] ?? "";
  const sites = await (await fetch(`${base}/sites`, { headers: { Cookie: cookie } })).text();
  const site = /\/sites\/\w{26}/.exec(sites)?.[0] ?? "";
  const pages = [
    ["/", "day"],
    ["/meters", "meters"],
    [`/meters/${meter}`, "meter"],
    [`/meters/${meter}/calibrate`, "start calibration"],
    [calibration, "calibration"],
    [`/meters/${meter}/read`, "start reading"],
    [`/readings/${reading.slice(0, 26)}`, "reading"],
    [check, "check"],
    [`/meters/${meter}/check`, "start check"],
    [`${calibration}/certificate`, "certificate"],
    [`${calibration}/certificate.pdf`, "certificate as PDF"],
    ["/ledger", "ledger"],
    [`/ledger?reading=${reading}&sort=value`, "ledger with evidence"],
    ["/runs", "runs"],
    ["/runs/new/phosphate-photometer", "start run"],
    [run, "run, judged"],
    ["/runs/plan", "planner"],
    ["/methods/oxygen-drops", "method"],
    ["/methods/oxygen-drops/edit", "edit method"],
    ["/due", "what is due"],
    ["/stock", "stock"],
    [`/stock/${lot}`, "lot"],
    ["/visits", "visits"],
    ["/visits/rounds/new", "plan a round"],
    ["/samples", "samples that wait"],
    ["/samples?which=all", "samples"],
    ["/custody", "batches"],
    [batch, "batch"],
    [`${batch}/batch.pdf`, "batch as PDF"],
    ["/bottles", "bottles"],
    ["/sites", "sites"],
    [site, "site"],
    ["/sites/along", "along the water"],
    ["/solutions", "calculators"],
    ["/solutions/ph-calibration", "calculator"],
    ["/rules", "house rules"],
    ["/people", "people"],
    ["/me", "sign-in of one's own"],
  ] as const;
  console.log("page                    server ms (median, slowest of 20)   script kB   style kB   (gzipped)");
  for (const [path, name] of pages) {
    const { ms, slowest, html } = await timePage(path, cookie);
    const { script, style } = weigh(html);
    console.log(
      `${name.padEnd(24)}${cell(ms.toFixed(1), 10)}${cell(slowest.toFixed(1), 10)}${cell(script.toFixed(0), 26)}${cell(style.toFixed(0), 11)}`,
    );
  }
  const busy = await makeBusyVisit(env.BRINTEL_DATABASE);
  const { ms, slowest, html } = await timePage(busy, cookie);
  const items = html.split('class="visit-item').length - 1;
  const clocks = html.split('class="wait ringing"').length + html.split('class="c m"').length - 2;
  console.log(
    `\na visit with ${items} things to do and ${clocks} clocks: ${ms.toFixed(1)} ms (slowest of 20: ${slowest.toFixed(1)})`,
  );
  await measureFirstVisits(base, areas);
  await measureOpening(base, busy);
  await measureLongTasks(base);
} finally {
  server.kill();
  rmSync(folder, { recursive: true, force: true });
}

await timeRejudging();
const withdrawal = await timeWithdrawal();
console.log(
  `One of 1 000 lots withdrawn among 50 000 readings: ${withdrawal.touched} rest on it, preview ${(withdrawal.preview_ms / 1000).toFixed(2)} s, re-judged and written ${(withdrawal.run_ms / 1000).toFixed(2)} s`,
);
timePlanner();
const brought = await timeImport(100_000);
console.log(
  `A file of 100 000 results (${brought.megabytes.toFixed(1)} MB): brought in ${(brought.bring_ms / 1000).toFixed(1)} s, looked at ${(brought.look_ms / 1000).toFixed(1)} s, judged and taken over ${(brought.take_ms / 1000).toFixed(1)} s, taken out again ${(brought.undo_ms / 1000).toFixed(1)} s`,
);

const count = 10_000;
const inputs = {
  points: [
    { buffer_ph: 7, mv: 0, temperature_c: 25 },
    { buffer_ph: 4.01, mv: 176.9, temperature_c: 25 },
  ],
};
const lines = `${JSON.stringify({ id: "ph-calibration", inputs })}\n`.repeat(count);
const begun = performance.now();
spawnSync(process.execPath, ["scripts/run.mjs", "scripts/calc.ts"], { input: lines, maxBuffer: 1e9 });
const seconds = (performance.now() - begun) / 1000;
console.log(
  `\ncalc: ${count} pH calibrations by line in ${seconds.toFixed(2)} s, start included (${Math.round(count / seconds)} a second)`,
);
