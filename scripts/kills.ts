/**
 * Kills the server again and again (kill -9) while four senders post events as browsers do, each again until it is answered for, and looks
 * afterwards: every event that was acknowledged is there, none twice, the journal fits, and nothing points at nothing. `npm run kills -- 50`.
 */
import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { monotonicFactory } from "ulid";
import { rawEvents } from "../app/server/bench/eventStore.server";
import { hashSecret } from "../app/server/people/secret.server";
import { openDatabase } from "../app/server/platform/sqlite.server";
import { beginReading, openTestBench } from "../app/server/testing/testBench";
import { verifyRecords } from "../app/server/upkeep/verify.server";
import { seededRandom } from "../core/quantity/random";
import demo from "../demo/signIn.json";
import { signIn } from "./lib/signIn";
import { ensureBuild } from "./lib/steps.mjs";

const times = Number(process.argv[2] ?? 50);
const senders = 4;
const port = 4197;
const base = `http://127.0.0.1:${port}`;
const folder = mkdtempSync(join(tmpdir(), "brintel-kills-"));
const file = join(folder, "bench.sqlite");
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

async function begin(): Promise<ChildProcess> {
  const server = spawn(process.execPath, ["server.mjs"], {
    env: {
      ...process.env,
      NODE_ENV: "production",
      PORT: String(port),
      BRINTEL_DATABASE: file,
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
const bench = await openTestBench(file);
await bench.db("people").update({ password: await hashSecret(demo.password) });
const now = new Date().toISOString();
const works: string[] = [];
for (let i = 0; i < senders; i++) works.push(await beginReading(bench, `S-${i}`, now));
await bench.db.destroy();

let server = await begin();
const cookie = await signIn(base, "Noor");
const acknowledged: string[] = [];
let again = 0;
let stop = false;

/** One sender: an event at a time, sent until it is acknowledged. */
async function send(work: string): Promise<void> {
  const ulid = monotonicFactory();
  for (let n = 0; !stop; n++) {
    const id = ulid();
    const event = { id, at: new Date().toISOString(), by: bench.person.id, type: "noted", text: `note ${n}` };
    for (let tries = 0; ; tries++) {
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
  const gone = new Promise((done) => server.once("exit", done));
  server.kill("SIGKILL");
  await gone;
  server = await begin();
}
await pause(300);
stop = true;
await Promise.all(sending);
server.kill("SIGKILL");

const db = await openDatabase(file, { migrate: false });
const events = [...(await rawEvents(db, works)).values()].flat() as { id: string; type: string }[];
const notes = events.filter((e) => e.type === "noted").map((e) => e.id);
const { faults, entries } = await verifyRecords(db);
await db.destroy();
const raw = new Sqlite(file, { readonly: true });
const dangling = (raw.pragma("foreign_key_check") as unknown[]).length;
raw.close();
rmSync(folder, { recursive: true });
const missing = acknowledged.filter((id) => !notes.includes(id)).length;
const twice = notes.length - new Set(notes).size;
process.stdout.write(
  `${times} kills; ${acknowledged.length} events acknowledged, ${again} of them after a kill; ${notes.length} kept; ` +
    `${missing} missing, ${twice} twice; ${entries} entries of the journal, ${faults.length} faults; ${dangling} rows that point at nothing.\n`,
);
process.exitCode = missing || twice || faults.length || dangling ? 1 : 0;
