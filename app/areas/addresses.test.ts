import { describe, expect, it } from "vitest";
import routes from "../routes";
import { rightOfRoute } from "../server/platform/rights.server";
import { everybodys } from "./shell/useLooksOnly";

describe("addresses that change something", () => {
  const files = import.meta.glob<{ action?: unknown }>("./**/*.{ts,tsx}");
  type Entry = (typeof routes)[number];
  const all = (entries: readonly Entry[], base = ""): { path: string; file: string }[] =>
    entries.flatMap((e) => [
      { path: `${base}/${e.path ?? ""}`.replace(/\/+/g, "/"), file: e.file },
      ...all(e.children ?? [], `${base}/${e.path ?? ""}`),
    ]);
  const takes = async (file: string): Promise<boolean> => {
    const read = files[`./${file.replace("areas/", "")}`];
    if (!read) throw new Error(`${file} is not where the addresses say.`);
    return (await read()).action !== undefined;
  };
  /** Open to everybody: signing in and out, one's own password, the first steps, colours, calculators, and the clock, which only tests wind. */
  const open = [
    "/sign-in",
    "/sign-out",
    "/me",
    "/start",
    "/theme",
    "/api/calculators/:calculatorId",
    "/clock",
  ];

  it("each need a right, and no address that has none takes anything", async () => {
    for (const { path, file } of all(routes)) {
      if (open.includes(path) || !(await takes(file))) continue;
      const concrete = path.replace(/:\w+/g, "01HZZZZZZZZZZZZZZZZZZZZZZZ");
      expect(rightOfRoute(concrete), `${path} has an action and needs a right`).not.toBeNull();
      expect(rightOfRoute(`${concrete}.data`)).toBe(rightOfRoute(concrete));
    }
    expect(rightOfRoute("/ledger")).toBeNull();
  });

  it("are let through beside the rail for whoever only looks where they are open to everybody, and nowhere else", async () => {
    const [shell] = routes;
    const openBesideRail: string[] = [];
    for (const { path, file } of all(shell?.children ?? [])) {
      if (open.includes(path) && (await takes(file))) openBesideRail.push(path);
    }
    expect(openBesideRail).toEqual(everybodys);
  });
});
