import { spawn } from "node:child_process";

/** Runs a script of this folder in a process of its own, and kills it, as a power cut would, once it says that it has come so far. */
export async function killedOnceReached(script: string, ...args: string[]): Promise<void> {
  const child = spawn(process.execPath, ["--import", "tsx", `app/server/testing/${script}.ts`, ...args], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  await new Promise<void>((reached, failed) => {
    child.stdout.on("data", () => reached());
    child.once("exit", () => failed(new Error("It ended before it could be killed.")));
  });
  const gone = new Promise((done) => child.once("exit", done));
  child.kill("SIGKILL");
  await gone;
}

/** In such a script: says that it has come so far, and holds still until the kill comes. */
export function reached(): void {
  process.stdout.write("reached\n");
  // Give the word time to arrive, then block: nothing more is written.
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 30_000);
}
