import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { noteFailure } from "../../app/server/results/rejudge.server";
import { runRejudging } from "../../app/server/results/rejudgeRun.server";
import * as runner from "../../app/server/results/rejudgeRunner.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { at } from "../../app/server/testing/phosphateBench";
import { calibratedPond, pondReading } from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const use = benchForEachTest();
const visitor = () => new Visitor(use.bench);
const water = { conductivity: 600, ph: -62, oxygen: 85 };
const begun: string[] = [];

/** Whoever looks at a page does it at this hour. */
const clockAt = (h: number) => vi.setSystemTime(at(h));

beforeEach(() => {
  begun.length = 0;
  vi.useFakeTimers({ now: new Date(at(12)), toFake: ["Date"] });
  vi.spyOn(runner, "startRejudging").mockImplementation((id) => void begun.push(id));
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const meterPage = () => `/meters/${use.bench.pond.id}`;
const write = (fields: Record<string, string> = {}) =>
  visitor().send(meterPage(), {
    kind: "membrane-changed",
    measurand: "oxygen",
    on_date: "2026-04-12",
    clock: "",
    note: "torn",
    ...fields,
  });
const entryPage = async (): Promise<string> => {
  const { id } = await use.bench.db("service_log").orderBy("created_at", "desc").first("id");
  return `/services/${id}`;
};

describe("what was done to a meter", () => {
  it.each([
    [{ clock: "13:00" }, "This time is still to come."],
    [{ on_date: "2026-04-13" }, "This day is still to come."],
    [{ clock: "25:00" }, "Give the time as hours and minutes, like 09:40."],
    [{ on_date: "yesterday" }, "Give a date as year-month-day."],
    [{ lot: "EL-9" }, "No bottle EL-9 is on the shelf."],
  ])("is not written down with %j, and says why at its field", async (fields, sentence) => {
    const answer = await write(fields);
    expect([answer.status, answer.text.includes(sentence)]).toEqual([422, true]);
    expect(await use.bench.db("service_log")).toEqual([]);
  });

  it("is told with its time, and what it ended", async () => {
    await calibratedPond(use.bench, at(8));
    await write({ clock: "09:40" });
    expect((await visitor().open(meterPage())).text).toContain("12 Apr, 09:40: Membrane changed, oxygen");
    const { text } = await visitor().open(await entryPage());
    expect(text).toContain("M-1: Membrane changed, oxygen");
    expect(text).toContain("12 Apr, 09:40 · written down by Noor, 12 Apr, 12:00");
    expect(text).toContain("The calibration of the sensor before it ended then.");
    expect(text).toContain("nothing has to change");
  });

  it("is taken out with a reason, once, and says so wherever it stands", async () => {
    await calibratedPond(use.bench, at(8));
    await write();
    clockAt(13);
    await pondReading(use.bench, water, at(13));
    const page = await entryPage();
    const without = await visitor().send(page, { reason: " " });
    expect([without.status, without.text.includes("Say what was wrong with it.")]).toEqual([422, true]);
    const long = await visitor().send(page, { reason: "x".repeat(201) });
    expect([long.status, long.text.includes("under 201 characters")]).toEqual([422, true]);
    expect((await visitor().open(page)).text).not.toContain("Taken out");
    await visitor().send(page, { reason: "It was only cleaned." });
    expect(begun).toHaveLength(1);
    const { text } = await visitor().open(page);
    expect(text).toContain("Taken out. The meter is as it was without it.");
    expect(text).toContain("Noor, 12 Apr, 13:00: It was only cleaned.");
    expect(text).not.toContain("was written down wrong");
    expect((await visitor().open(meterPage())).text).toContain("taken out: It was only cleaned.");
    await visitor().send(page, { reason: "It was only cleaned." });
    expect(begun).toHaveLength(1);
    await noteFailure(use.bench.db, begun[0] ?? "", "The disk was full.");
    expect((await visitor().open(page)).text).toContain("not all have followed The disk was full. Try again");
    await visitor().send(page, { do: "rejudge" });
    expect(begun).toEqual([begun[0], begun[0]]);
    expect((await visitor().open(page)).text).toContain("Re-judging the readings …");
    expect((await visitor().open("/due")).text).toContain(
      "“Membrane changed” of 12 Apr, 12:00 was taken out",
    );
  });

  it("is said to have changed so many results, none, or to have had none, there and on the day", async () => {
    await calibratedPond(use.bench, at(8));
    await write();
    clockAt(13);
    await pondReading(use.bench, water, at(13));
    const page = await entryPage();
    await visitor().send(page, { reason: "It was only cleaned." });
    await runRejudging(use.bench.db, begun[0] ?? "", at(13));
    const said = async (readings: number, changed: number) => {
      await use.bench.db("rejudgings").update({ readings, changed });
      return [(await visitor().open(page)).text, (await visitor().open("/")).text].join("\n");
    };
    const some = await said(2, 1);
    expect(some).toContain("1 of 2 readings re-judged");
    expect(some).toContain("1 reading re-judged");
    const none = await said(2, 0);
    expect(none).toContain("2 readings judged anew: all stay as they were");
    expect(none).toContain("2 readings judged anew, none changed");
    const nothing = await said(0, 0);
    expect(nothing).toContain("No reading rests on it.");
    expect(nothing).not.toMatch(/re-judged|judged anew/);
  });

  it("leads to the readings that did not know of it, which are judged when somebody confirms it", async () => {
    await calibratedPond(use.bench, at(8));
    await pondReading(use.bench, water, at(10));
    await write({ clock: "09:00" });
    expect((await visitor().open("/due")).text).toContain("Look at 1 reading of M-1");
    const page = await entryPage();
    expect((await visitor().open(page)).text).toContain("Re-judge 2 readings");
    await visitor().send(page, { do: "rejudge" });
    expect(begun).toHaveLength(1);
    expect(await use.bench.db("rejudgings").pluck("kind")).toEqual(["service"]);
    const refused = await visitor().send(page, { reason: "It was only cleaned." });
    expect([refused.status, refused.text.includes("is being judged anew. Wait")]).toEqual([422, true]);
  });

  it("is something that was written down", async () => {
    expect((await visitor().open("/services/none")).status).toBe(404);
    expect((await visitor().send("/services/none", { reason: "x" })).status).toBe(404);
    expect((await visitor().send("/services/none", { do: "rejudge" })).status).toBe(404);
  });
});
