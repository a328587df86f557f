import { spawnSync } from "node:child_process";
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, it } from "vitest";
import { openDatabase } from "../platform/engine.server";
import { calibratedPh, openTestBench, phReading } from "../testing/testBench";
import { makeBackup } from "./backup.server";
import { sealNow } from "./seals.server";

const folder = mkdtempSync(join(tmpdir(), "brintel-operations-"));
afterAll(() => rmSync(folder, { recursive: true }));

/** The commands of a section of the document, as somebody would copy them. */
function commandsOf(section: string): string {
  const text = readFileSync("docs/operations.md", "utf8").split(`## ${section}`)[1] ?? "";
  return /```sh\n([\s\S]*?)```/.exec(text)?.[1] ?? "";
}

it("yesterday's backup is restored by the commands of the document, as they stand there", async () => {
  const file = join(folder, "brintel.sqlite");
  const bench = await openTestBench(file);
  await calibratedPh(bench, "2026-04-12T08:00:00.000Z");
  await phReading(bench, -40, "2026-04-12T09:00:00.000Z");
  await sealNow(bench.db);
  const yesterday = await makeBackup(file, "2026-04-12T22:00:00.000Z");
  await phReading(bench, -42, "2026-04-12T23:00:00.000Z");
  await sealNow(bench.db);
  await bench.db.destroy();

  // There is no service manager in a test: what it was asked for is written down.
  const tools = join(folder, "tools");
  mkdirSync(tools);
  writeFileSync(join(tools, "systemctl"), `#!/bin/sh\necho "$@" >> ${folder}/asked\n`);
  chmodSync(join(tools, "systemctl"), 0o755);
  const { status, stdout, stderr } = spawnSync("sh", ["-e", "-c", commandsOf("Restore yesterday's backup")], {
    env: {
      ...process.env,
      PATH: `${tools}:${process.env.PATH}`,
      BRINTEL_DATABASE: file,
      BRINTEL_BACKUPS: "",
      BACKUP: yesterday.file,
    },
    encoding: "utf8",
  });
  expect(status, stderr).toBe(0);
  expect(stderr).toContain(yesterday.file);
  expect(stdout).toContain("Everything fits.");
  expect(readFileSync(join(folder, "asked"), "utf8")).toBe("stop brintel\nstart brintel\n");
  const db = await openDatabase(file);
  expect(await db("readings")).toHaveLength(1);
  await db.destroy();
});

it("every setting of the example is known, and every known setting that people set is in the example", () => {
  const example = readFileSync(".env.example", "utf8");
  const named = [...example.matchAll(/^#? ?([A-Z_]+)=/gm)].map((m) => m[1]);
  const known = [
    ...readFileSync("app/server/platform/config.server.ts", "utf8").matchAll(/^ {2}([A-Z_]+):/gm),
  ].map((m) => m[1]);
  const forTests = ["BRINTEL_DEVICE_SPEED", "BRINTEL_TEST_CLOCK"];
  expect([...named].sort()).toEqual(known.filter((name) => !forTests.includes(name ?? "")).sort());
});
