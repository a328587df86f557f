import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { describe, expect, it } from "vitest";

const pages = [
  "README.md",
  "CONTRIBUTING.md",
  ...readdirSync("docs", { recursive: true, encoding: "utf8" })
    .filter((name) => name.endsWith(".md"))
    .map((name) => join("docs", name)),
];

/** Whether a page speaks of how things are; decisions speak of how they were when they were taken. */
const isOfToday = (page: string) => !page.startsWith(join("docs", "decisions"));

/** Files of the tree that a page names with their path, as `app/server/…/name.ts`. */
const pathsIn = (text: string): string[] =>
  [...text.matchAll(/`((?:app|core|demo|docs|scripts|tests)\/[\w./-]+\.\w+)`/g)].map((m) => m[1] ?? "");

/** What a page links to within the tree. */
const linksIn = (text: string): string[] =>
  [...text.matchAll(/\]\((?!https?:|#|mailto:)([^)#\s]+)/g)].map((m) => m[1] ?? "");

describe("what is written about the program", () => {
  it.each(pages.filter(isOfToday))("%s names only files that are there", (page) => {
    const gone = pathsIn(readFileSync(page, "utf8")).filter((path) => !existsSync(path));
    expect(gone).toEqual([]);
  });

  it.each(pages)("%s links only to what is there", (page) => {
    const gone = linksIn(readFileSync(page, "utf8")).filter((link) => !existsSync(join(dirname(page), link)));
    expect(gone).toEqual([]);
  });

  it("names a test for every promise", () => {
    const rows = readFileSync("docs/promises.md", "utf8")
      .split("\n")
      .filter((line) => line.startsWith("| ") && !line.startsWith("| promise") && !line.startsWith("| ---"));
    expect(rows.length).toBeGreaterThan(25);
    for (const row of rows) {
      const named = pathsIn(row);
      expect(named.length, row).toBeGreaterThan(0);
      expect(
        named.filter((path) => !/\.(test\.tsx?|spec\.ts)$/.test(path)),
        row,
      ).toEqual([]);
    }
  });
});
