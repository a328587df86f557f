// A PostgreSQL server for tests and benchmarks, on a folder of its own that is thrown away. Plain Node, no packages.
import { spawn, spawnSync } from "node:child_process";
import { chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { run, say } from "./steps.mjs";

/** Where Debian puts the programs of the server, by version. */
const versions = "/usr/lib/postgresql";

/** The folder of the newest server's programs; undefined where there is none. */
function programs() {
  const found = existsSync(versions) ? readdirSync(versions).sort((a, b) => Number(b) - Number(a)) : [];
  return found
    .map((version) => join(versions, version, "bin"))
    .find((folder) => existsSync(join(folder, "initdb")) && existsSync(join(folder, "postgres")));
}

/** Finds the server, or installs Debian's where this user may. False where there is none and none can be had. */
export async function ensurePostgres() {
  if (programs()) return true;
  if (spawnSync("apt-get", ["--version"]).status !== 0 || process.getuid?.() !== 0) return false;
  say("Installing PostgreSQL from Debian's packages");
  const env = { DEBIAN_FRONTEND: "noninteractive" };
  try {
    await run("apt-get", ["update", "-qq"]);
    await run("apt-get", ["install", "-y", "-qq", "--no-install-recommends", "postgresql"], { env });
  } catch {
    return false;
  }
  return programs() !== undefined;
}

/** The server refuses to run as root: then it runs as the user that Debian's package made for it. */
function otherUser() {
  if (process.getuid?.() !== 0) return {};
  const id = (flag) => Number(spawnSync("id", [flag, "postgres"]).stdout.toString());
  return { uid: id("-u"), gid: id("-g") };
}

const freePort = () =>
  new Promise((done) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address();
      probe.close(() => done(port));
    });
  });

/**
 * Starts a server. `durable` waits for the disk as a real one does; without it, tests are quicker.
 * Resolves with its address and how to stop it; `kill` ends it as a power cut would, `start` starts it again.
 */
export async function startPostgres({ durable = false } = {}) {
  const bin = programs();
  if (!bin)
    throw new Error("There is no PostgreSQL server on this machine (on Debian: apt-get install postgresql).");
  const user = otherUser();
  const folder = mkdtempSync(join(tmpdir(), "brintel-postgres-"));
  if (user.uid) chownSync(folder, user.uid, user.gid);
  const data = join(folder, "data");
  const made = spawnSync(
    join(bin, "initdb"),
    ["-D", data, "-U", "brintel", "--auth=trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync"],
    user,
  );
  if (made.status !== 0) throw new Error(`No PostgreSQL database could be made: ${made.stderr}`);
  const port = await freePort();
  const quick = ["fsync=off", "synchronous_commit=off", "full_page_writes=off", "max_wal_size=4GB"];
  const settings = [...(durable ? [] : quick), "shared_buffers=256MB", "max_connections=100"];
  let child;
  let ended;
  const start = async () => {
    child = spawn(
      join(bin, "postgres"),
      [
        "-D",
        data,
        "-p",
        String(port),
        "-k",
        folder,
        "-h",
        "127.0.0.1",
        ...settings.flatMap((s) => ["-c", s]),
      ],
      { ...user, stdio: ["ignore", "ignore", "pipe"] },
    );
    let said = "";
    child.stderr.on("data", (text) => {
      said = `${said}${text}`.slice(-4000);
    });
    ended = new Promise((done) => child.once("exit", done));
    for (let tries = 0; ; tries++) {
      if (spawnSync(join(bin, "pg_isready"), ["-h", "127.0.0.1", "-p", String(port)]).status === 0) return;
      if (tries > 300 || child.exitCode !== null) throw new Error(`PostgreSQL did not start: ${said}`);
      await new Promise((done) => setTimeout(done, 100));
    }
  };
  await start();
  const end = async (signal) => {
    child.kill(signal);
    await ended;
  };
  return {
    url: `postgres://brintel@127.0.0.1:${port}/postgres`,
    start,
    kill: () => end("SIGQUIT"),
    stop: async () => {
      await end("SIGINT");
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
