/**
 * Prints, and asserts nothing: server time of each page with the demo data, script and style by route (gzipped),
 * and how many calculations the command line answers a second.
 */
import { type ChildProcess, execFileSync, spawn, spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { ensureBuild } from "./lib/steps.mjs";

const port = 4199;
const base = `http://127.0.0.1:${port}`;

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

async function signIn(): Promise<string> {
  const people = await (await fetch(`${base}/people`)).text();
  const person = /value="([^"]+)"[^>]*name="person"/.exec(people)?.[1] ?? "";
  const answer = await fetch(`${base}/people`, {
    method: "POST",
    body: new URLSearchParams({ person }),
    redirect: "manual",
    headers: { Origin: base },
  });
  const cookie = (answer.headers.get("set-cookie") ?? "").split(";")[0] ?? "";
  if (!cookie) throw new Error("Nobody could be put at the bench.");
  return cookie;
}

const median = (values: number[]) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? Number.NaN;

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
  const cookie = await signIn();
  const home = await (await fetch(`${base}/meters`, { headers: { Cookie: cookie } })).text();
  const meter = /\/meters\/(\w{26})/.exec(home)?.[1] ?? "";
  const meterPage = await (await fetch(`${base}/meters/${meter}`, { headers: { Cookie: cookie } })).text();
  const calibration = /\/calibrations\/\w{26}/.exec(meterPage)?.[0] ?? "";
  const ledger = await (await fetch(`${base}/ledger`, { headers: { Cookie: cookie } })).text();
  const reading = /reading=(\w{26})/.exec(ledger)?.[1] ?? "";
  const stock = await (await fetch(`${base}/stock`, { headers: { Cookie: cookie } })).text();
  const lot = /\/stock\/(\w{26})/.exec(stock)?.[1] ?? "";
  const pages = [
    ["/", "day"],
    ["/meters", "meters"],
    [`/meters/${meter}`, "meter"],
    [`/meters/${meter}/calibrate`, "start calibration"],
    [calibration, "calibration"],
    [`/meters/${meter}/read`, "start reading"],
    [`/readings/${reading}`, "reading"],
    ["/ledger", "ledger"],
    [`/ledger?reading=${reading}&sort=value`, "ledger with evidence"],
    ["/stock", "stock"],
    [`/stock/${lot}`, "lot"],
    ["/sites", "sites"],
    ["/solutions", "calculators"],
    ["/solutions/ph-calibration", "calculator"],
    ["/rules", "house rules"],
    ["/people", "people"],
  ] as const;
  console.log("page                    server ms (median, slowest of 20)   script kB   style kB   (gzipped)");
  for (const [path, name] of pages) {
    const { ms, slowest, html } = await timePage(path, cookie);
    const { script, style } = weigh(html);
    console.log(
      `${name.padEnd(24)}${cell(ms.toFixed(1), 10)}${cell(slowest.toFixed(1), 10)}${cell(script.toFixed(0), 26)}${cell(style.toFixed(0), 11)}`,
    );
  }
} finally {
  server.kill();
  rmSync(folder, { recursive: true, force: true });
}

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
