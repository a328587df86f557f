import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { noteFailure } from "../../app/server/results/rejudge.server";
import * as runner from "../../app/server/results/rejudgeRunner.server";
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

describe("what was made wrong", () => {
  const begun: string[] = [];
  beforeEach(() => {
    begun.length = 0;
    // What happened half an hour ago happened today.
    vi.useFakeTimers({ now: new Date("2026-04-12T12:00:00.000Z"), toFake: ["Date"] });
    vi.spyOn(runner, "startRejudging").mockImplementation((id) => void begun.push(id));
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.restoreAllMocks();
  });

  it.each(["check", "calibration"] as const)("is taken out with a reason: a %s", async (kind) => {
    const calibration = await calibratedPond(use.bench, ago(90));
    await pondReading(use.bench, water, ago(60));
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, ago(30));
    const page = kind === "check" ? `/checks/${check}` : `/calibrations/${calibration}`;
    const without = await visitor().send(page, { reason: " " });
    expect([without.status, without.text.includes("Say what was wrong with it.")]).toEqual([422, true]);
    const long = await visitor().send(page, { reason: "x".repeat(201) });
    expect([long.status, long.text.includes("under 201 characters")]).toEqual([422, true]);
    expect((await visitor().open(page)).text).not.toContain("Taken out");
    await visitor().send(page, { reason: "Another buffer stood in the cup." });
    expect(begun).toHaveLength(1);
    const { text } = await visitor().open(page);
    expect(text).toContain("Taken out.");
    expect(text).toContain("Another buffer stood in the cup.");
    expect(text).not.toContain("was made wrong");
    if (kind === "check") {
      expect((await visitor().open(`/meters/${use.bench.pond.id}`)).text).toContain(
        "taken out: Another buffer",
      );
      expect((await visitor().open("/")).text).toContain("M-1, closing check taken out");
    }
    // Pressed twice, nothing more is begun.
    await visitor().send(page, { reason: "Another buffer stood in the cup." });
    expect(begun).toHaveLength(1);
  });

  it("is followed once more where that failed, and nothing else is asked by the same button", async () => {
    const calibration = await calibratedPond(use.bench, ago(90));
    await pondReading(use.bench, water, ago(60));
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, ago(30));
    for (const page of [`/checks/${check}`, `/calibrations/${calibration}`]) {
      await visitor().send(page, { reason: "Another buffer stood in the cup." });
      await noteFailure(use.bench.db, begun.at(-1) ?? "", "The disk was full.");
      expect((await visitor().open(page)).text).toContain(
        "not all have followed The disk was full. Try again",
      );
      await visitor().send(page, { do: "rejudge" });
      expect((await visitor().open(page)).text).toContain("Re-judging the readings …");
    }
    const [checked, calibrated] = [begun.slice(0, 2), begun.slice(2)];
    expect([new Set(checked).size, new Set(calibrated).size]).toEqual([1, 1]);
    expect(await use.bench.db("rejudgings").distinct("kind").pluck("kind")).toEqual(["work"]);
  });

  it("is something that was made", async () => {
    expect((await visitor().send("/checks/none", { reason: "x" })).status).toBe(404);
  });
});
