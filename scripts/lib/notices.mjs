// The licences of what the program is made with, as one text. Plain Node, no packages.
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";

const licenceFile = /^(licen[cs]e|copying|notice)(\.(md|txt|markdown))?$/i;

/** Every package that ships, by the lock file: what is for development alone is left out. */
function shipped(root) {
  const { packages } = JSON.parse(readFileSync(join(root, "package-lock.json"), "utf8"));
  return Object.entries(packages)
    .filter(([path, facts]) => path.startsWith("node_modules/") && !facts.dev && !facts.devOptional)
    .filter(([path]) => existsSync(join(root, path)))
    .map(([path, { version, license = "" }]) => ({
      path,
      name: path.slice(path.lastIndexOf("node_modules/") + "node_modules/".length),
      version,
      license,
    }));
}

/** The texts of a package's licence; empty where it has none of its own. */
const textsOf = (root, path) =>
  readdirSync(join(root, path))
    .filter((name) => licenceFile.test(name))
    .sort()
    .map((name) =>
      readFileSync(join(root, path, name), "utf8")
        .replaceAll("\r\n", "\n")
        .trim(),
    );

/** All notices of a checkout: who shares a text stands above it once. */
export function notices(root) {
  const groups = new Map();
  for (const { path, name, version, license } of shipped(root)) {
    const text = textsOf(root, path).join("\n\n") || `Licence by its package file: ${license || "not said"}.`;
    groups.set(text, [...(groups.get(text) ?? []), `${name} ${version}${license ? ` (${license})` : ""}`]);
  }
  const parts = [...groups]
    .map(([text, names]) => ({ text, names: [...new Set(names)].sort() }))
    .sort((a, b) => a.names[0].localeCompare(b.names[0], "en"))
    .map(({ text, names }) => `${"=".repeat(78)}\n${names.join("\n")}\n${"-".repeat(78)}\n${text}\n`);
  return `Brintel is made with the packages below. Each is used under its own licence, which follows.\n\n${parts.join("\n")}`;
}
