import { monotonicFactory } from "ulid";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { findReading } from "../../app/server/results/readings.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPh, liveCapture } from "../../app/server/testing/testBench";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { Visitor } from "./pages";

const ulid = monotonicFactory();
const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const at = (clock: string) => `2026-04-12T${clock}:00.000Z`;

/** Everything the server dates is dated so. */
const itIs = (clock: string) => vi.setSystemTime(new Date(at(clock)));
beforeEach(() => {
  vi.useFakeTimers({ toFake: ["Date"] });
  itIs("11:40");
});
afterEach(() => vi.useRealTimers());

const method = libraryMethod("oxygen-drops");
const events = async (work: string, ...happened: object[]) => {
  const sent_at = new Date().toISOString();
  const made = happened.map((e) => ({ id: ulid(), at: sent_at, by: "x", ...e }));
  const { body } = await visitor().ask(`/bench/${work}/events`, { sent_at, events: made });
  const refused = JSON.parse(body).answers.filter((a: { is: string }) => a.is === "refused");
  expect(refused).toEqual([]);
};

/** A visit through its page: an oxygen pair filled and dosed at noon, and a general bottle. */
async function noonsBottles(): Promise<{ visit: string; pair: string; general: string }> {
  const visit = ulid();
  await visitor().send("/visits", {
    work: visit,
    event: ulid(),
    site: hands.bench.site.id,
    bottles: ["oxygen-pair", "general"],
    methods: method.id,
  });
  await events(visit, { type: "arrived", people: "" });
  itIs("12:00");
  const [pair, general] = ["BP-0412-1200-1", "BP-0412-1200-2"];
  await events(
    visit,
    { type: "rinsed", bottle: 0 },
    { type: "filled", bottle: 0, sample: { id: ulid(), code: pair }, depth_cm: 15 },
    { type: "fixed", bottle: 0 },
    ...[1, 2, 3].map(() => ({ type: "rinsed", bottle: 1 })),
    { type: "filled", bottle: 1, sample: { id: ulid(), code: general }, depth_cm: 15 },
    { type: "stored", bottle: 1 },
  );
  return { visit, pair, general };
}

/** Titrates the pair from its own page's link, at a time of day; what the page says then. */
async function titratedAt(clock: string, { visit, pair }: { visit: string; pair: string }) {
  itIs(clock);
  const sample = (await visitor().ask(`/find?code=${pair}`)).headers.get("Location") ?? "";
  expect((await visitor().open(sample)).text).toContain(method.name);
  const work = ulid();
  const form = {
    work,
    event: ulid(),
    site: hands.bench.site.id,
    sample: pair,
    collected: at("12:00"),
    temperature: "20",
    dilution: "1",
    visit,
  };
  expect((await visitor().send(`/runs/new/${method.id}`, form)).location).toBe(`/runs/${work}`);
  const played = new RunPlayer(method, {}, Date.now()).play(8);
  vi.setSystemTime(Date.parse(played.events.at(-1)?.at ?? at(clock)) + 1000);
  const sent_at = new Date().toISOString();
  await visitor().ask(`/bench/${work}/events`, { sent_at, events: played.events });
  return { page: await visitor().open(`/runs/${work}`), sample: await visitor().open(sample) };
}

describe("bottles fixed at noon", () => {
  it("titrated at 17:30 are noon's water, and the page says 5.5 of 8 hours", async () => {
    const { page, sample } = await titratedAt("17:30", await noonsBottles());
    expect(page.text).toMatch(/BP-0412-1200-1 was measured while it kept.*5\.[5-7] h · limit 8\.0 h/);
    expect(page.text).not.toContain("was measured after it");
    expect(sample.text).toContain("taken 12 Apr, 12:00");
    expect(sample.text).toContain("done");
  });

  it("titrated at 20:30 are qualified, and the page says since when and what to do", async () => {
    const { page, sample } = await titratedAt("20:30", await noonsBottles());
    expect(page.text).toMatch(
      /BP-0412-1200-1 kept until 12 Apr, 20:00 and was measured after it.*8\.[5-7] h/,
    );
    expect(page.text).toContain("Take a new sample, and measure it in time.");
    expect(sample.html).toContain("qualified");
  });

  it("read with a meter at 17:30 rest on the calibration of 17:00, not on the one of the morning", async () => {
    const { general } = await noonsBottles();
    await calibratedPh(hands.bench, at("08:00"));
    const later = await calibratedPh(hands.bench, at("17:00"));
    itIs("17:30");
    const work = ulid();
    const form = {
      work,
      event: ulid(),
      site: hands.bench.site.id,
      sample: general,
      measurand: "ph",
      collected: at("12:00"),
    };
    const begun = await visitor().send(`/meters/${hands.bench.meter.id}/read`, form);
    expect(begun.location).toBe(`/readings/${work}`);
    for (const [station, mv] of [-62, -62.5].entries()) {
      const captured = { type: "captured", station, capture: liveCapture(mv) };
      await events(work, { type: "rinsed", station }, { type: "placed", station }, captured);
    }
    itIs("18:00");
    await events(work, { type: "finished" });
    const reading = await findReading(hands.bench.db, `${work}-ph`);
    expect(reading).toMatchObject({
      collected_at: at("12:00"),
      measured_at: at("17:30"),
      finished_at: at("18:00"),
    });
    expect(reading?.calibration_id).toContain(later);
    const { text } = await visitor().open(`/readings/${work}`);
    expect(text).toContain("12 Apr, 17:00");
    expect(text).toMatch(/was measured while it kept.*5\.5 h · limit 24\.0 h/);
  });
});
