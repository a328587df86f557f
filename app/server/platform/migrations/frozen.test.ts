import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "vitest";
import { migrationNames } from ".";
import frozen from "./frozen.json";

const folder = dirname(fileURLToPath(import.meta.url));
const known: Record<string, string> = frozen;
const files = readdirSync(folder).filter((name) => /^\d{3}-.*\.ts$/.test(name));

describe("migrations are append-only", () => {
  it.each(files)("%s is as it was released: what is to change comes as a new one", (name) => {
    const hash = createHash("sha256")
      .update(readFileSync(join(folder, name)))
      .digest("hex");
    expect(known[name], `Add ${name} to frozen.json when it is released.`).toBe(hash);
  });

  it("are all still there, and all are run, in order", () => {
    expect(Object.keys(known)).toEqual(files);
    expect(migrationNames).toEqual(files.map((name) => name.replace(".ts", "")));
  });
});
