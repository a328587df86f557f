// npm run release: builds, and packs what a machine needs to run Brintel into dist/, without anything for development.
import { spawnSync } from "node:child_process";
import { cpSync, mkdirSync, readFileSync, rmSync } from "node:fs";
import { basename, join } from "node:path";
import { ensureBuild, ensurePackages, root, say, stop } from "./lib/steps.mjs";

const { version } = JSON.parse(readFileSync(join(root, "package.json"), "utf8"));
const name = `brintel-${version}`;
const dist = join(root, "dist");
const folder = join(dist, name);

/** The build, what starts it, and what the commands at the console are made of. */
const parts = [
  "build",
  "app",
  "core",
  "server.mjs",
  "worker.mjs",
  "package.json",
  "package-lock.json",
  "tsconfig.json",
  ".env.example",
  "LICENSE",
  "README.md",
  "docs/guide.md",
  "docs/operations.md",
  ...["run.mjs", "start.mjs", "postinstall.mjs"].map((file) => `scripts/${file}`),
  ...["archive", "backup", "migrate", "password", "restore", "verify"].map((name) => `scripts/${name}.ts`),
  ...["steps.mjs", "steps.d.mts", "notices.mjs"].map((file) => `scripts/lib/${file}`),
];
const left = (path) => /\.test\.tsx?$/.test(path) || ["testing", "+types"].includes(basename(path));

try {
  await ensurePackages();
  await ensureBuild();
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  for (const part of parts)
    cpSync(join(root, part), join(folder, part), { recursive: true, filter: (path) => !left(path) });
  const packed = spawnSync("tar", ["-czf", `${name}.tar.gz`, name], { cwd: dist, stdio: "inherit" });
  if (packed.status !== 0) throw new Error("It could not be packed: is there a tar on this machine?");
  rmSync(folder, { recursive: true });
  say(`dist/${name}.tar.gz`);
} catch (error) {
  stop(error.message);
}
