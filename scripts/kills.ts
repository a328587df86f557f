/**
 * Kills the server again and again (kill -9) while four senders post events as browsers do, each again until it is answered for, and looks
 * afterwards: every event that was acknowledged is there, none twice, the journal fits, and nothing points at nothing. `npm run kills -- 50`.
 * `npm run kills -- 20 postgres` does so to two servers beside one PostgreSQL; every fifth time the database itself is killed instead.
 */
import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { monotonicFactory } from "ulid";
import { rawEvents } from "../app/server/bench/eventStore.server";
import { hashSecret } from "../app/server/people/secret.server";
import { openDatabase } from "../app/server/platform/engine.server";
import { beginReading, openTestBench } from "../app/server/testing/testBench";
import { verifyRecords } from "../app/server/upkeep/verify.server";
import { seededRandom } from "../core/quantity/random";
import demo from "../demo/signIn.json";
import { startPostgres } from "./lib/postgres.mjs";
import { signIn } from "./lib/signIn";
import { ensureBuild } from "./lib/steps.mjs";

const times = Number(process.argv[2] ?? 50);
const senders = 4;
const folder = mkdtempSync(join(tmpdir(), "brintel-kills-"));
// The seals that the servers write are held against the journal at the end.
process.env.BRINTEL_DATA = folder;
/** It waits for the disk as in real use: what is killed here is also the database. */
const postgres = process.argv[3] === "postgres" ? await startPostgres({ durable: true }) : null;
const place = postgres?.url ?? join(folder, "bench.sqlite");
const ports = postgres ? [4197, 4198] : [4197];
const baseOf = (port: number) => `http://127.0.0.1:${port}`;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

async function begin(port: number): Promise<ChildProcess> {
  const server = spawn(process.execPath, ["server.mjs"], {
    env: {
      ...process.env,
      NODE_ENV: "production",
      PORT: String(port),
      BRINTEL_DATABASE: place,
      BRINTEL_BACKUP_HOURS: "0",
      BRINTEL_LOG: "error",
    },
    stdio: ["ignore", "pipe", "inherit"],
  });
  await new Promise<void>((ready) =>
    server.stdout?.on("data", (text) => /ready/.test(String(text)) && ready()),
  );
  return server;
}

await ensureBuild();
const bench = await openTestBench(place);
await bench.db("people").update({ password: await hashSecret(demo.password) });
const now = new Date().toISOString();
const works: string[] = [];
for (let i = 0; i < senders; i++) works.push(await beginReading(bench, `S-${i}`, now));
await bench.db.destroy();

const servers = await Promise.all(ports.map(begin));
const cookie = await signIn(baseOf(4197), "Noor");
const acknowledged: string[] = [];
let again = 0;
let stop = false;

/** One sender: an event at a time, sent until it is acknowledged. */
async function send(work: string, nth: number): Promise<void> {
  const ulid = monotonicFactory();
  for (let n = 0; !stop; n++) {
    const id = ulid();
    const event = { id, at: new Date().toISOString(), by: bench.person.id, type: "noted", text: `note ${n}` };
    for (let tries = 0; ; tries++) {
      const base = baseOf(ports[(nth + n + tries) % ports.length] ?? 0);
      const answer = await fetch(`${base}/bench/${work}/events`, {
        method: "POST",
        headers: { Cookie: cookie, Origin: base, "Content-Type": "application/json" },
        body: JSON.stringify({ sent_at: new Date().toISOString(), events: [event] }),
      })
        .then(async (r) => (r.ok ? ((await r.json()) as { answers: { id: string; is: string }[] }) : null))
        .catch(() => null);
      const is = answer?.answers[0]?.is;
      if (is === "kept" || is === "known") {
        acknowledged.push(id);
        if (tries) again++;
        break;
      }
      if (is === "refused") throw new Error(`An event was refused: ${JSON.stringify(answer)}`);
      await pause(20);
    }
  }
}

const sending = works.map(send);
const random = seededRandom(7);
for (let i = 0; i < times; i++) {
  // A server that has just begun loads its pages for half a second; it is killed at any moment of its first two.
  await pause(300 + 1700 * random());
  if (postgres && i % 5 === 4) {
    await postgres.kill();
    await postgres.start();
    continue;
  }
  const nth = Math.floor(random() * servers.length);
  const server = servers[nth];
  const gone = new Promise((done) => server?.once("exit", done));
  server?.kill("SIGKILL");
  await gone;
  servers[nth] = await begin(ports[nth] ?? 0);
}
await pause(300);
stop = true;
await Promise.all(sending);
for (const server of servers) server.kill("SIGKILL");

const db = await openDatabase(place, { migrate: false });
const events = [...(await rawEvents(db, works)).values()].flat() as { id: string; type: string }[];
const notes = events.filter((e) => e.type === "noted").map((e) => e.id);
const { faults, entries } = await verifyRecords(db);
await db.destroy();
// PostgreSQL takes no row that points at nothing; SQLite can be asked.
let dangling = 0;
if (!postgres) {
  const raw = new Sqlite(place, { readonly: true });
  dangling = (raw.pragma("foreign_key_check") as unknown[]).length;
  raw.close();
}
await postgres?.stop();
rmSync(folder, { recursive: true });
const missing = acknowledged.filter((id) => !notes.includes(id)).length;
const twice = notes.length - new Set(notes).size;
process.stdout.write(
  `${times} kills; ${acknowledged.length} events acknowledged, ${again} of them after a kill; ${notes.length} kept; ` +
    `${missing} missing, ${twice} twice; ${entries} entries of the journal, ${faults.length} faults; ${dangling} rows that point at nothing.\n`,
);
for (const { what, id, sentence } of faults) process.stdout.write(`  ${what} ${id}: ${sentence}\n`);
process.exitCode = missing || twice || faults.length || dangling ? 1 : 0;
