import { fork } from "node:child_process";
import { randomUUID } from "node:crypto";
import { copyFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { test as base, expect, type Page } from "@playwright/test";
import { inTheStory } from "./story";

export const folder = join("test-results", "data");
export const demoTemplate = join(folder, "demo.sqlite");
/** The cookie that says who is at the bench of the demo, as the people list gave it: Noor tests, Maren reviews, Petra manages. */
export const cookieOf = (person: "Noor" | "Maren" | "Petra") => join(folder, `${person}.json`);

/** The servers of this worker's tests by their addresses. */
const running = new Map<string, BrintelServer>();

/** A process of this worker that served a test before and has nothing left to do. */
let spare: ServerProcess | undefined;

/** A process in which the real server runs. */
class ServerProcess {
  private readonly child = fork("tests/e2e/serverProcess.mjs", {
    execArgv: ["--import", new URL("storyClock.mjs", import.meta.url).href],
    env: {
      ...process.env,
      NODE_ENV: "production",
      BRINTEL_DEVICE_SPEED: "40",
      BRINTEL_LOG: "error",
      BRINTEL_BACKUP_HOURS: "0",
      BRINTEL_SECRET: "tests",
      BRINTEL_TEST_CLOCK: "1",
    },
  });

  /** Has it do something, and waits for its answer. Errors: throws what it says went wrong, and when it ends meanwhile. */
  async ask(question: Asked): Promise<Answer> {
    this.child.ref();
    this.child.channel?.ref();
    const answer = await new Promise<Answer>((done) => {
      const ended = () => done({ trouble: "The server's process ended." });
      this.child.once("exit", ended);
      this.child.once("message", (said: Answer) => {
        this.child.off("exit", ended);
        done(said);
      });
      this.child.send(question);
    });
    // Between questions it keeps nobody waiting: it ends with whoever asked it.
    this.child.unref();
    this.child.channel?.unref();
    if (answer.trouble) throw new Error(answer.trouble);
    return answer;
  }

  async end(): Promise<void> {
    if (this.child.exitCode !== null || this.child.signalCode !== null) return;
    // Its end is waited for, also when nothing else is left to wait for.
    this.child.ref();
    const gone = new Promise((done) => this.child.once("exit", done));
    this.child.kill("SIGKILL");
    await gone;
  }
}
type Asked = { ask: "serve"; database: string; port: number } | { ask: "stop" };
interface Answer {
  port?: number;
  idle?: boolean;
  trouble?: string;
}

/** The real server on a database of its own, which can be killed and started again at the same address. */
export class BrintelServer {
  private process: ServerProcess | undefined;
  private port = 0;
  private ahead_ms = 0;
  private lost = false;
  private constructor(private readonly database: string) {}

  static async create(data: "demo" | "empty"): Promise<BrintelServer> {
    const database = join(folder, `${randomUUID()}.sqlite`);
    if (data === "demo") copyFileSync(demoTemplate, database);
    return BrintelServer.on(database);
  }

  /** The server on a file that is there. */
  static async on(database: string): Promise<BrintelServer> {
    const server = new BrintelServer(database);
    await server.start();
    running.set(server.url, server);
    return server;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    const taken = spare ?? new ServerProcess();
    spare = undefined;
    this.process = taken;
    const { port } = await taken.ask({ ask: "serve", database: this.database, port: this.port });
    this.port = port ?? 0;
    // Whoever was served before may have wound it.
    await this.wind(this.ahead_ms);
  }

  /** Winds the server's clock on by so much in all; it stays wound when the server is started again. */
  async wind(ahead_ms: number): Promise<void> {
    this.ahead_ms = ahead_ms;
    const answer = await fetch(`${this.url}/clock`, {
      method: "POST",
      headers: { "Content-Type": "application/json", Origin: this.url },
      body: JSON.stringify({ ahead_ms }),
    });
    if (!answer.ok) throw new Error("The server's clock cannot be wound.");
  }

  /** Takes the database file away under the running server, as a clean-up script by mistake would. */
  lose(): void {
    this.lost = true;
    for (const end of ["", "-wal", "-shm"]) rmSync(this.database + end, { force: true });
  }

  /** Ends the process at once, as a power cut would. */
  async kill(): Promise<void> {
    await this.process?.end();
    this.process = undefined;
  }

  /** Stops serving: the file is whole afterwards, and the process may serve another. */
  async stop(): Promise<void> {
    const { process: served } = this;
    if (!served || this.lost) return this.kill();
    this.process = undefined;
    const { idle } = await served.ask({ ask: "stop" });
    if (idle && !spare) spare = served;
    else await served.end();
  }
}

/** A page that was just loaded hears nothing until it has put this mark: no test presses into a deaf page. */
const listening = (page: Page) => page.locator("html[data-listens]").waitFor({ state: "attached" });

/** Makes every load of a page wait until it listens. */
export function waitsUntilListening(page: Page): Page {
  for (const name of ["goto", "reload", "goBack", "goForward"] as const) {
    const load = page[name].bind(page) as (...args: unknown[]) => Promise<unknown>;
    const waiting = async (...args: unknown[]) => {
      const response = await load(...args);
      const type =
        (response as { headers?(): Record<string, string> } | null)?.headers?.()["content-type"] ??
        "text/html";
      if (type.includes("text/html")) await listening(page);
      return response;
    };
    Object.assign(page, { [name]: waiting });
  }
  return page;
}

const wound = new WeakMap<Page, number>();

/** Winds the clocks of a page and its server on together, so that nobody's clock is off. */
export async function wind(page: Page, ms: number): Promise<void> {
  // What is on its way is let arrive: between the two windings the clocks differ.
  await expect(page.getByText(/not sent yet/)).toHaveCount(0);
  const ahead_ms = (wound.get(page) ?? 0) + ms;
  wound.set(page, ahead_ms);
  await running.get(new URL(page.url()).origin)?.wind(ahead_ms);
  await page.clock.fastForward(ms);
}

/** Every test has a server of its own; `data` chooses what its database holds, `person` who is at the bench already. */
export const test = base.extend<{
  data: "demo" | "empty";
  person: "Noor" | "Maren" | "Petra" | "nobody";
  server: BrintelServer;
}>({
  data: ["demo", { option: true }],
  person: ["Noor", { option: true }],
  storageState: ({ data, person }, use) =>
    use(data === "demo" && person !== "nobody" ? cookieOf(person) : { cookies: [], origins: [] }),
  server: async ({ data }, use) => {
    const server = await BrintelServer.create(data);
    await use(server);
    await server.stop();
  },
  baseURL: async ({ server }, use) => use(server.url),
  context: async ({ context }, use) => {
    await inTheStory(context);
    await use(context);
  },
  page: async ({ page }, use) => use(waitsUntilListening(page)),
});
export { expect };
