import { describe, expect, it } from "vitest";
import { unfolded } from "../../app/server/day/groupDue";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { Visitor } from "./pages";

const hands = benchForEachTest("own");
const visitor = () => new Visitor(hands.bench);

const inDays = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

/** A bottle that is opened and may be used for three days more. */
const soonGone = (code: string) => ({
  kind: "reagent",
  name: "Ascorbic acid",
  code,
  received_on: inDays(-20),
  opened_on: inDays(-10),
  expires_on: inDays(3),
  place: "drawer 1",
  size: "50",
  unit: "g",
  hazard: "none",
});

describe("what is due", () => {
  it("stands on one page in full, where the rail unfolds the first of many", async () => {
    const codes = Array.from({ length: unfolded + 3 }, (_, i) => `DUE-${String(i + 1).padStart(2, "0")}`);
    for (const code of codes) await visitor().send("/stock/new", soonGone(code));
    const { text, html } = await visitor().open("/due");
    const [rail, page] = html.split('<main class="stack">');
    expect(codes.filter((code) => page?.includes(code))).toEqual(codes);
    expect(page).toContain(`${codes.length} lots run out soon`);
    expect(text).toContain("and 3 more: see all of them");
    // Where the rail leads to is on the page.
    const anchor = /href="\/due#([a-z-]+)"/.exec(rail ?? "")?.[1];
    expect(page).toContain(`id="${anchor}"`);
    expect(text).toContain(`${codes.length + 2} things`);
  });

  it("says what and when, one by one where nothing is alike", async () => {
    const { text } = await visitor().open("/due");
    expect(text).toContain("2 things Calibrate M-1 conductivity, pH, oxygen: never calibrated now Open");
    expect(text).not.toContain("run out soon");
  });
});
