// Set-up steps shared by the commands. Plain Node, no packages: it must run on a clean clone.
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

export const root = join(dirname(fileURLToPath(import.meta.url)), "..", "..");
const stamp = join(root, "node_modules", ".brintel-packages");

export function say(text) {
  process.stdout.write(`\x1b[36m▸\x1b[0m ${text}\n`);
}

export function stop(sentence) {
  process.stderr.write(`\n${sentence}\n`);
  process.exit(1);
}

/** Runs a command with its output shown; rejects with a sentence when it fails. */
export function run(command, args, options = {}) {
  return new Promise((done, failed) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: options.quiet ? ["ignore", 2, 2] : "inherit",
      env: { ...process.env, ...options.env },
    });
    child.on("error", (error) => failed(new Error(`${command} could not be started: ${error.message}`)));
    child.on("exit", (code, signal) =>
      code === 0 ? done() : failed(new Error(`${command} ${args.join(" ")} ended with ${signal ?? code}`)),
    );
  });
}

/** Runs a command beside others: what it prints is shown when it has ended, in one piece. Rejects as {@link run} does. */
export function runBeside(command, args, options = {}) {
  return new Promise((done, failed) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: ["ignore", "pipe", "pipe"],
      env: { ...process.env, ...options.env },
    });
    const printed = [];
    for (const stream of [child.stdout, child.stderr]) stream.on("data", (piece) => printed.push(piece));
    child.on("error", (error) => failed(new Error(`${command} could not be started: ${error.message}`)));
    child.on("close", (code, signal) => {
      process.stdout.write(Buffer.concat(printed));
      if (code === 0) done();
      else failed(new Error(`${command} ${args.join(" ")} ended with ${signal ?? code}`));
    });
  });
}

/** A tool of node_modules/.bin, started without npx. */
export const tool = (name, args, options) => run(join(root, "node_modules", ".bin", name), args, options);

/** What the installed packages were made from: the lock file and the version native modules are built for. */
function packagesWanted() {
  const lock = createHash("sha256")
    .update(readFileSync(join(root, "package-lock.json")))
    .digest("hex");
  return `${lock} ${process.versions.modules}`;
}

/** Notes that the packages are in place; npm calls it after every install, its own or ours (scripts/postinstall.mjs). */
export const stampPackages = () => writeFileSync(stamp, packagesWanted());

/** Installs the packages of the lock file when they are missing or the lock file has changed. */
export async function ensurePackages({ quiet = false } = {}) {
  const [major, minor] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    stop(`Brintel needs Node 20.19 or newer; this is ${process.version}. Install it and try again.`);
  }
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === packagesWanted()) return;
  (quiet ? (text) => process.stderr.write(`${text}\n`) : say)(
    "Installing packages (the database engine may be compiled: about two minutes the first time)",
  );
  await run("npm", ["ci", "--no-audit", "--no-fund"], { quiet });
}

/** Files whose change asks for a new build. */
const buildInputs = [
  "app",
  "core",
  "demo",
  "vite.config.ts",
  "react-router.config.ts",
  "package-lock.json",
  "scripts/antd-css.tsx",
  "scripts/lib/pureSchemas.ts",
  "scripts/lib/withoutStyles.ts",
  "scripts/lib/notices.mjs",
];

function fingerprint() {
  const hash = createHash("sha256");
  const listed = spawnSync("git", ["ls-files", "-co", "--exclude-standard", "-z", ...buildInputs], {
    cwd: root,
  });
  if (listed.status !== 0) return `${Date.now()}`;
  for (const path of listed.stdout.toString().split("\0").filter(Boolean).sort()) {
    const file = join(root, path);
    if (existsSync(file)) hash.update(path).update(readFileSync(file));
  }
  return hash.digest("hex");
}

/** Lays a compressed copy beside every script and style, so that the server need not compress while somebody waits. */
function layCompressed(folder) {
  for (const name of readdirSync(folder)) {
    if (!/\.(js|css|svg)$/.test(name)) continue;
    const file = readFileSync(join(folder, name));
    writeFileSync(
      join(folder, `${name}.br`),
      brotliCompressSync(file, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }),
    );
    writeFileSync(join(folder, `${name}.gz`), gzipSync(file));
  }
}

/** Builds the application when its sources have changed since the last build. */
export async function ensureBuild({ force = false } = {}) {
  const mark = join(root, "build", ".brintel-build");
  // A release is built, and brings nothing to build it with.
  if (!force && existsSync(mark) && !existsSync(join(root, ".git"))) return;
  const wanted = fingerprint();
  if (!force && existsSync(mark) && readFileSync(mark, "utf8") === wanted) return;
  say("Building");
  await run(process.execPath, ["scripts/run.mjs", "scripts/antd-css.tsx"]);
  await tool("react-router", ["build"], { env: { NODE_ENV: "production" } });
  layCompressed(join(root, "build", "client", "assets"));
  const { notices } = await import("./notices.mjs");
  writeFileSync(join(root, "build", "client", "notices.txt"), notices(root));
  mkdirSync(dirname(mark), { recursive: true });
  writeFileSync(mark, wanted);
}

/** Finds Chromium, or installs Debian's where this user may; otherwise says what to do. */
/** Debian's Chromium without windows is the same browser and quicker; the one with windows will do as well. */
const chromiums = ["/usr/bin/chromium-headless-shell", "/usr/bin/chromium"];
const installedChromium = () => chromiums.find((path) => existsSync(path));

export async function ensureChromium() {
  const named = process.env.BRINTEL_CHROMIUM;
  if (named && !existsSync(named)) stop(`BRINTEL_CHROMIUM names ${named}, which does not exist.`);
  const there = named ?? installedChromium();
  const mayInstall = spawnSync("apt-get", ["--version"]).status === 0 && process.getuid?.() === 0;
  if (there === undefined && !mayInstall) {
    stop(
      "The end-to-end tests need Chromium. Install it (on Debian: sudo apt-get install chromium-headless-shell) " +
        "or set BRINTEL_CHROMIUM to the path of a Chromium you have, then run npm test again.",
    );
  }
  if (there === undefined || (!named && there !== chromiums[0] && mayInstall)) {
    say("Installing Chromium from Debian's packages");
    const env = { DEBIAN_FRONTEND: "noninteractive" };
    const install = async () => {
      await run("apt-get", ["update", "-qq"]);
      await run("apt-get", ["install", "-y", "-qq", "chromium-headless-shell"], { env });
    };
    // Where there is one already, a machine without a network goes on with it.
    await install().catch((error) => {
      if (there === undefined) throw error;
    });
  }
  return named ?? installedChromium();
}
