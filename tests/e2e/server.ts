import { type ChildProcess, spawn } from "node:child_process";
import { copyFileSync, existsSync } from "node:fs";
import { createServer } from "node:net";
import { join } from "node:path";
import { test as base } from "@playwright/test";

export const folder = join("test-results", "data");
export const demoTemplate = join(folder, "demo.sqlite");

async function freePort(): Promise<number> {
  return new Promise((done) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => done(port));
    });
  });
}

/** The real server on a database of its own, which can be killed and started again. */
export class BrintelServer {
  private child: ChildProcess | undefined;
  private constructor(
    readonly url: string,
    private readonly port: number,
    private readonly database: string,
  ) {}

  static async create(name: string, data: "demo" | "empty"): Promise<BrintelServer> {
    const port = await freePort();
    const database = join(folder, `${name}-${port}.sqlite`);
    if (data === "demo" && !existsSync(database)) copyFileSync(demoTemplate, database);
    const server = new BrintelServer(`http://127.0.0.1:${port}`, port, database);
    await server.start();
    return server;
  }

  async start(): Promise<void> {
    this.child = spawn(process.execPath, ["server.mjs"], {
      env: {
        ...process.env,
        NODE_ENV: "production",
        PORT: String(this.port),
        BRINTEL_DATABASE: this.database,
        BRINTEL_DEVICE_SPEED: "20",
        BRINTEL_LOG: "error",
        BRINTEL_SECRET: "tests",
      },
      stdio: ["ignore", "ignore", "inherit"],
    });
    for (let i = 0; i < 100; i++) {
      const up = await fetch(`${this.url}/health`).then(
        (r) => r.ok,
        () => false,
      );
      if (up) return;
      await new Promise((wait) => setTimeout(wait, 100));
    }
    throw new Error("The server did not start.");
  }

  /** Ends the process at once, as a power cut would. */
  async kill(): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null) return;
    const gone = new Promise((done) => child.once("exit", done));
    child.kill("SIGKILL");
    await gone;
  }
}

/** Every test has a server of its own; `data` chooses what its database holds. */
export const test = base.extend<{ data: "demo" | "empty"; server: BrintelServer }>({
  data: ["demo", { option: true }],
  server: async ({ data }, use, info) => {
    const server = await BrintelServer.create(`test-${info.workerIndex}`, data);
    await use(server);
    await server.kill();
  },
  baseURL: async ({ server }, use) => use(server.url),
});
export { expect } from "@playwright/test";
