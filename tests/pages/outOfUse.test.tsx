import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { postEvents } from "../../app/server/bench/bench.server";
import { recordId } from "../../app/server/bench/benchWork.server";
import { verifyJournal } from "../../app/server/bench/verifyJournal.server";
import { findReading } from "../../app/server/results/readings.server";
import { addSite } from "../../app/server/sites/sites.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import {
  beginReading,
  calibratedPh,
  liveCapture,
  phReading,
  wholeRun,
} from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const use = benchForEachTest();
const visitor = () => new Visitor(use.bench);
const reason = "The glass is cracked.";
beforeEach(() => {
  vi.useFakeTimers({ now: new Date("2026-04-12T12:00:00.000Z"), toFake: ["Date"] });
});
afterEach(() => {
  vi.useRealTimers();
});

const ago = (minutes: number) => new Date(Date.now() - minutes * 60_000).toISOString();

describe("a meter that is used no more", () => {
  const page = () => `/meters/${use.bench.meter.id}`;

  it("is offered nowhere, nothing of it is due, and what was measured with it stays; then it is used again", async () => {
    await calibratedPh(use.bench, ago(30));
    const reading = await phReading(use.bench, -62, ago(20));
    for (const [given, sentence] of [
      ["  ", "Say why it is used no more."],
      ["x".repeat(201), "Keep the reason under 201 characters."],
    ] as const) {
      const refused = await visitor().send(page(), { reason: given });
      expect([refused.status, refused.text.includes(sentence)]).toEqual([422, true]);
    }
    expect((await visitor().send(page(), { reason })).status).toBe(200);
    const { text } = await visitor().open(page());
    expect(text).toMatch(/Out of use since .*\. Noor: The glass is cracked\./);
    expect(text).not.toContain("Take a reading");
    expect(text).not.toContain("This meter is used no more");
    const list = await visitor().open("/meters");
    expect(list.text).toContain("P-2 · Meter P-2 since 12 Apr 2026: The glass is cracked.");
    expect(list.html).not.toContain(`${page()}/read`);
    expect((await visitor().open("/due")).text).not.toMatch(/(Calibrate|check of|Control of) P-2/);
    for (const way of ["read", "calibrate", "check"]) {
      const refused = await visitor().open(`${page()}/${way}`);
      expect(refused.status).toBe(409);
      expect(refused.text).toContain("P-2 is out of use: “The glass is cracked.” Take it into use again");
    }
    expect((await visitor().send(`${page()}/read`, { sample: "x" })).status).toBe(409);
    // It is found in the ledger and by whoever jumps there.
    expect((await visitor().open("/ledger")).html).toContain("P-2");
    expect((await visitor().open(`/readings/${reading}`)).status).toBe(200);
    const places = JSON.parse((await visitor().ask("/jump")).body).map((p: { label: string }) => p.label);
    expect(places).toContain("Meter P-2");
    expect(places).not.toContain("Calibrate P-2");
    // Pressed twice, nothing happens.
    await visitor().send(page(), { reason: "again" });
    await visitor().send(page(), { do: "use" });
    await visitor().send(page(), { do: "use" });
    expect((await visitor().open(page())).text).toContain("Take a reading");
    const actions = await use.bench
      .db("journal")
      .where("action", "like", "meter %use%")
      .orderBy("seq")
      .pluck("action");
    expect(actions).toEqual(["meter out of use", "meter in use again"]);
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("stays in use while something is under way with it; what comes late of before is taken", async () => {
    const { db, person } = use.bench;
    await calibratedPh(use.bench, ago(30));
    const work = await beginReading(use.bench, "BP-0412", ago(20));
    const refused = await visitor().send(page(), { reason });
    expect(refused.text).toContain("Something is under way with this meter. Finish it or give it up first.");
    // As if it had been begun by a device that nobody had heard of yet.
    await db("bench_work").where({ id: work }).update({ status: "finished" });
    await visitor().send(page(), { reason });
    await db("bench_work").where({ id: work }).update({ status: "open" });
    const captures = [liveCapture(-62), liveCapture(-62)];
    const { refused: late } = await postEvents(
      db,
      person,
      work,
      wholeRun(use.bench, captures, ago(10)),
      ago(0),
    );
    expect(late).toBeUndefined();
    expect((await findReading(db, recordId(work, "ph")))?.verdict).toBe("sound");
  });

  it("is called and used as somebody sets it right, under a code of its own", async () => {
    const { id } = use.bench.meter;
    const name = (fields: Record<string, string>) =>
      visitor().send(page(), { do: "name", code: "P-9", name: "Pump house", place: "field", ...fields });
    for (const [fields, sentence] of [
      [{ code: "" }, "Give the meter the short code you call it by, like P-2."],
      [{ code: "M-1" }, "Another meter has this code."],
      [{ name: " " }, "Say which meter it is."],
      [{ place: "boat" }, "Choose where it is used."],
    ] as const) {
      const refused = await name(fields);
      expect(refused.status).toBe(422);
      if (!("place" in fields)) expect(refused.text).toContain(sentence);
    }
    expect((await name({})).text).toContain("P-9 · Pump house");
    expect((await visitor().open(page())).text).toContain("used in the field");
    await name({});
    const renamed = await use.bench.db("journal").where({ action: "meter renamed", subject_id: id });
    expect(renamed).toHaveLength(1);
  });
});

describe("a site that is sampled no more", () => {
  it("is offered nowhere and counts nowhere, and decides no standards; then it is sampled again", async () => {
    const { db, person } = use.bench;
    const drain = { name: "Moor drain", water: "drain", altitude_m: null };
    const acid = { ph_low: 3.5, ph_high: 4.5, conductivity_low: null, conductivity_high: null };
    const site = await addSite(db, { ...drain, ...acid }, person, ago(60));
    const page = `/sites/${site?.id}`;
    const proposed = async () => (await visitor().open(`/meters/${use.bench.meter.id}/calibrate`)).text;
    expect((await visitor().open("/")).text).toContain("of 2 sites read today");
    const widely = await proposed();
    const refused = await visitor().send(page, { reason: "" });
    expect([refused.status, refused.text.includes("Say why it is used no more.")]).toEqual([422, true]);
    await visitor().send(page, { reason: "The drain is closed." });
    expect((await visitor().open(page)).text).toMatch(/Out of use since .*\. Noor: The drain is closed\./);
    expect((await visitor().open("/sites")).text).toMatch(
      /No longer sampled void Moor drain since .*: The drain is closed\./,
    );
    expect((await visitor().open("/")).text).toContain("of 1 site read today");
    expect((await visitor().open(`/meters/${use.bench.meter.id}/read`)).text).not.toContain("Moor drain");
    expect((await visitor().open("/samples/new")).text).not.toContain("Moor drain");
    // Two buffers that bracket the pond's water do for it.
    expect(await proposed()).not.toBe(widely);
    await visitor().send(page, { do: "use" });
    expect(await proposed()).toBe(widely);
    expect((await visitor().open("/")).text).toContain("of 2 sites read today");
    expect((await visitor().send("/sites/none", { reason: "x" })).status).toBe(404);
    expect((await visitor().send("/sites/none", { do: "use" })).status).toBe(404);
  });
});
