/** Times heavy work on a running server, and what the page of the day takes beside it. */
import { existsSync, readFileSync, rmSync } from "node:fs";
import { besidePlace, openDatabase } from "../../app/server/platform/engine.server";
import { listBackups, manifestOf } from "../../app/server/upkeep/backupFiles.server";
import { median } from "./median";
import { signIn } from "./signIn";

/** A server that runs, and somebody who is signed in. */
interface Running {
  base: string;
  pid: number | undefined;
  cookie: string;
  get: (path: string) => Promise<string>;
}

const residentMB = (pid: number | undefined) => {
  const status = `/proc/${pid}/status`;
  if (!pid || !existsSync(status)) return Number.NaN;
  return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(status, "utf8"))?.[1] ?? Number.NaN) / 1024;
};

/** How much more memory the server has while something goes on, and nothing else is asked of it. */
async function alone({ pid, get }: Running, work: () => Promise<void>): Promise<string> {
  for (let i = 0; i < visitsToWarm; i++) await get("/");
  const before = residentMB(pid);
  let most = before;
  const watch = setInterval(() => {
    most = Math.max(most, residentMB(pid));
  }, 100);
  await work().finally(() => clearInterval(watch));
  return `${(most - before).toFixed(0)} MB more memory, nothing beside it`;
}

/** So many visits of the day's page, and whatever grows with pages has grown: what comes on top is the work's own. */
const visitsToWarm = 200;

/** How long the day's page takes, and how much more memory the server has, while something goes on. */
async function besideIt({ pid, get }: Running, work: () => Promise<void>): Promise<string> {
  for (let i = 0; i < visitsToWarm; i++) await get("/");
  const before = residentMB(pid);
  let most = before;
  let done = false;
  const days: number[] = [];
  const watch = (async () => {
    while (!done) {
      const begun = performance.now();
      await get("/");
      days.push(performance.now() - begun);
      most = Math.max(most, residentMB(pid));
      await new Promise((wait) => setTimeout(wait, 100));
    }
  })();
  await work();
  done = true;
  await watch;
  return `${(most - before).toFixed(0)} MB more memory; day page meanwhile ${median(days).toFixed(0)} ms (slowest ${Math.max(...days).toFixed(0)})`;
}

/** The export of everything: by itself, and beside the day's page. */
export async function timeExport(running: Running, readings: number): Promise<void> {
  const { base, cookie } = running;
  for (const measured of [alone, besideIt]) {
    let bytes = 0;
    let seconds = Number.NaN;
    const beside = await measured(running, async () => {
      const started = performance.now();
      const response = await fetch(`${base}/ledger/export.csv`, { headers: { Cookie: cookie } });
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) bytes += chunk.length;
      seconds = (performance.now() - started) / 1000;
    });
    console.log(
      `export of all: ${seconds.toFixed(1)} s, ${((seconds / readings) * 100_000).toFixed(1)} s per 100 000 rows, ${(bytes / 1e6).toFixed(0)} MB, ${beside}`,
    );
  }
}

/** A backup: copied while the server runs, and read from end to end. It is thrown away. */
export async function timeBackup(running: Running, place: string): Promise<void> {
  const { base } = running;
  const manager = await signIn(base, "Petra");
  const { made_at: last } = listBackups(besidePlace(place))[0] ?? {};
  const made = () => listBackups(besidePlace(place)).find((b) => b.made_at !== last);
  let seconds = Number.NaN;
  const beside = await besideIt(running, async () => {
    const begun = performance.now();
    const answer = await fetch(`${base}/upkeep`, {
      method: "POST",
      redirect: "manual",
      headers: { Cookie: manager, Origin: base },
      body: new URLSearchParams(),
    });
    if (answer.status !== 302) throw new Error(`No backup was begun: ${answer.status}.`);
    while (!made()) await new Promise((wait) => setTimeout(wait, 200));
    seconds = (performance.now() - begun) / 1000;
  });
  const backup = made();
  if (!backup) throw new Error("The backup is gone.");
  console.log(`backup: ${seconds.toFixed(1)} s, ${(backup.bytes / 1e6).toFixed(0)} MB, ${beside}`);
  rmSync(backup.file);
  rmSync(manifestOf(backup.file));
}

/** So many readings are judged anew. */
export const rejudged = 100_000;

/** New house rules that reach back over many readings: what that takes, and the day's page meanwhile. */
export async function timeRejudging(running: Running, place: string): Promise<void> {
  const { base } = running;
  const db = await openDatabase(place, { migrate: false });
  try {
    const last: { measured_at: string } | undefined = await db("readings")
      .orderBy("measured_at", "desc")
      .offset(rejudged)
      .first("measured_at");
    const { version } = await db("house_rules").orderBy("version", "desc").first("version");
    const manager = await signIn(base, "Petra");
    const wider = await (await fetch(`${base}/rules`, { headers: { Cookie: manager } })).text();
    const path = "ph.duplicate_ph";
    const present = Number(new RegExp(`name="${path}"[^>]*value="([^"]*)"`).exec(wider)?.[1]);
    let seconds = Number.NaN;
    let job: { status: string; readings: number; changed: number; error: string | null } | undefined;
    const beside = await besideIt(running, async () => {
      const answer = await fetch(`${base}/rules`, {
        method: "POST",
        redirect: "manual",
        headers: { Cookie: manager, Origin: base },
        body: new URLSearchParams({
          version: String(version),
          [path]: String(present + 0.01),
          from: (last?.measured_at ?? "").slice(0, 10),
          reason: "to see how long it takes",
          do: "keep-and-rejudge",
        }),
      });
      const begun = performance.now();
      if (answer.status !== 302) throw new Error(`The rules were not kept: ${answer.status}.`);
      do {
        await new Promise((wait) => setTimeout(wait, 500));
        job = await db("rejudgings").orderBy("requested_at", "desc").first();
      } while (job?.status === "confirmed");
      seconds = (performance.now() - begun) / 1000;
    });
    if (job?.status !== "done") throw new Error(`The re-judging did not end: ${job?.error}`);
    console.log(
      `re-judging of ${job.readings.toLocaleString("en")}: ${seconds.toFixed(1)} s, ${job.changed.toLocaleString("en")} changed, ${beside}`,
    );
  } finally {
    await db.destroy();
  }
}
