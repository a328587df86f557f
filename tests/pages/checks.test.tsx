import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPond, checkedPond, pondReading } from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const use = benchForEachTest();
const visitor = () => new Visitor(use.bench);
const right = { conductivity: 718, ph: 0, oxygen: 90 };
const water = { conductivity: 600, ph: -62, oxygen: 85 };
/** So many minutes before now. */
const ago = (minutes: number) => new Date(Date.now() - minutes * 60_000).toISOString();
const withdraw = () =>
  visitor().send(`/stock/${use.bench.standard.id}`, {
    do: "withdraw",
    reason: "cloudy",
    since: "2026-01-01",
  });

describe("the page of a check", () => {
  it("that failed leads to the readings it speaks of, and asks nothing once its bottle is withdrawn", async () => {
    await calibratedPond(use.bench, ago(90));
    await pondReading(use.bench, water, ago(60));
    const check = await checkedPond(use.bench, { ...right, conductivity: 790 }, ago(30));
    const before = await visitor().open(`/checks/${check}`);
    expect(before.text).toContain("Off for conductivity. Calibrate before the next reading.");
    expect(before.text).not.toContain("not trusted");
    expect((await visitor().open("/due")).text).toContain("Look at 1 reading of M-1");
    await withdraw();
    const { text } = await visitor().open(`/checks/${check}`);
    expect(text).toContain("for conductivity it says nothing of the readings before it, and corrects none");
    expect(text).toContain("Off, against a standard that is not trusted. Check again.");
    expect(text).not.toContain("No reading was taken since");
    expect((await visitor().open("/due")).text).not.toContain("Look at 1 reading of M-1");
  });

  it("that passed says so, until its bottle is withdrawn", async () => {
    await calibratedPond(use.bench, ago(90));
    const check = await checkedPond(use.bench, right, ago(30));
    expect((await visitor().open(`/checks/${check}`)).text).toContain("The readings before it may stand.");
    await withdraw();
    const { text } = await visitor().open(`/checks/${check}`);
    expect(text).toContain("Passed, against a standard that is not trusted.");
    expect(text).not.toContain("The readings before it may stand.");
  });
});
