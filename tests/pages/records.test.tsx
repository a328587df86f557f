import ical from "ical.js";
import Papa from "papaparse";
import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { calendarKey } from "../../app/server/platform/secretKey.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { openTestRun, postPlayed } from "../../app/server/testing/benchRun";
import {
  beginCalibration,
  calibratedPh,
  calibratedPond,
  phReading,
  pondReading,
  testNow,
} from "../../app/server/testing/testBench";
import { calculators } from "../../core/calculators/registry";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const now = () => new Date().toISOString();

describe("a bench on which nothing was done yet", () => {
  it("says on each page what to do first", async () => {
    const { meter } = hands.bench;
    expect((await visitor().open("/")).text).toContain("Nothing has been measured today.");
    const meters = await visitor().open("/meters");
    for (const code of ["P-2", "M-1"]) expect(meters.text).toContain(code);
    expect((await visitor().open(`/meters/${meter.id}`)).text).toMatch(/never calibrated/);
    expect((await visitor().open(`/meters/${meter.id}/read`)).text).toContain(
      "P-2 has never been calibrated. A reading now will be held.",
    );
    expect((await visitor().open("/ledger")).status).toBe(200);
  });

  it("has nothing under the address of a thing that is not there", async () => {
    for (const path of [
      "/meters/none",
      "/meters/none/read",
      "/meters/none/calibrate",
      `/calibrations/${ulid()}`,
      `/calibrations/${ulid()}/certificate`,
      `/readings/${ulid()}`,
      "/stock/none",
      "/methods/none",
      "/methods/none/edit",
      "/solutions/alchemy",
    ]) {
      expect((await visitor().open(path)).status, path).toBe(404);
    }
  });
});

describe("a day of a pH meter on its pages", () => {
  it("goes from the calibration over its certificate to the reading and the ledger", async () => {
    const calibration = await calibratedPh(hands.bench, testNow);
    const report = await visitor().open(`/calibrations/${calibration}`);
    expect(report.text).toMatch(/Sound/);
    expect(report.text).toMatch(/100\.0 %/);
    const certificate = await visitor().open(`/calibrations/${calibration}/certificate`);
    expect(certificate.text).toContain("P-2");
    for (const { lot } of hands.bench.lots) expect(certificate.text).toContain(lot.code);

    const reading = await phReading(hands.bench, -62, testNow);
    const judged = await visitor().open(`/readings/${reading}`);
    expect(judged.text).toContain("8.05");
    expect(judged.text).toContain("What this reading rests on");

    const row = await visitor().open(`/ledger?reading=${reading}-ph`);
    expect(row.text).toContain("Bathing pond");
    for (const { lot } of hands.bench.lots) expect(row.text).toContain(lot.code);
    expect((await visitor().open("/ledger?verdict=void")).text).not.toContain("8.05");
    const meter = await visitor().open(`/meters/${hands.bench.meter.id}`);
    expect(meter.html).toContain(`/calibrations/${calibration}`);
  });

  it("is carried away as CSV that an independent program reads, formulas made harmless", async () => {
    await calibratedPh(hands.bench, testNow);
    await phReading(hands.bench, -62, testNow, "=1+1");
    // What is carried away is what was filtered.
    const { html } = await visitor().open("/ledger?parameter=ph");
    for (const kind of ["csv", "json"]) expect(html).toContain(`/ledger/export.${kind}?parameter=ph`);
    const { body, headers } = await visitor().ask("/ledger/export.csv");
    expect(headers.get("Content-Type")).toContain("text/csv");
    const { data, errors } = Papa.parse<Record<string, string>>(body, { header: true, skipEmptyLines: true });
    expect(errors).toEqual([]);
    expect(data).toHaveLength(1);
    expect(Object.values(data[0] ?? {}).some((cell) => cell.startsWith("="))).toBe(false);
    // −62 mV at 25 °C, a perfect electrode: 7 + 62 / 59.16.
    const values = Object.values(data[0] ?? {}).map(Number);
    expect(values.some((v) => Math.abs(v - (7 + 62 / 59.16)) < 0.005)).toBe(true);
  });

  it("leads on while a calibration is open, from every page", async () => {
    const work = await beginCalibration(hands.bench, now());
    const open = await visitor().open(`/calibrations/${work}`);
    expect(open.text).toMatch(/Rinsed/);
    expect((await visitor().open("/")).text).toContain("Calibrating P-2 is open");
    expect((await visitor().open("/stock")).html).toContain(`/calibrations/${work}`);
  });
});

describe("a meter of three quantities", () => {
  it("shows all of them, judged, with the water they belong to", async () => {
    await calibratedPond(hands.bench, now());
    const reading = await pondReading(hands.bench, { conductivity: 600, ph: -62, oxygen: 85 }, now());
    const page = await visitor().open(`/readings/${reading}`);
    for (const word of ["Conductivity", "pH", "oxygen"])
      expect(page.text.toLowerCase()).toContain(word.toLowerCase());
    const { text } = await visitor().open("/");
    expect(text).toContain("µS/cm");
    expect(text).toContain("mg/L");
  });
});

describe("results of which no two agree", () => {
  it("are flagged on every page and lead the day, until new water has answered", async () => {
    const at = now();
    const play = async (sizes: readonly number[], later_s: number) => {
      const played = new RunPlayer(libraryMethod("oxygen-syringe"), {}, Date.parse(at) + later_s * 1000);
      for (const size of sizes) played.read(size);
      const work = await openTestRun(
        hands.bench,
        played.state.method,
        new Date(played.clock - 3_600_000).toISOString(),
      );
      await postPlayed(hands.bench, work, played.finish().events, at);
      return work;
    };
    const work = await play([6, 9.2, 8.1, 7.1], 0);
    const day = await visitor().open("/");
    expect(day.text).toContain("Collect new water: Bathing pond");
    expect((await visitor().open("/stock")).text).toContain("Collect new water: Bathing pond");
    expect((await visitor().open(`/runs/${work}`)).text).toContain("Start with new samples");
    await play([8, 8.2], 900);
    expect((await visitor().open("/stock")).text).not.toContain("Collect new water");
  });
});

describe.each(calculators.map((c) => [c.id, c] as const))(
  "the calculator %s on its doors",
  (id, calculator) => {
    it("shows its page, answers its own example, and names what is missing", async () => {
      const page = await visitor().open(`/solutions/${id}`);
      expect(page.status).toBe(200);
      expect(page.text).toContain(calculator.title);
      const answer = await visitor().ask(`/api/calculators/${id}`, calculator.example);
      expect(answer.status).toBe(200);
      const { outputs, working, sources } = JSON.parse(answer.body);
      expect(Object.keys(outputs).length).toBeGreaterThan(0);
      expect(working.length).toBeGreaterThan(0);
      expect(sources.length).toBeGreaterThan(0);
      const empty = await visitor().ask(`/api/calculators/${id}`, {});
      expect(empty.status).toBe(422);
      for (const { path, message } of JSON.parse(empty.body).errors) {
        expect(path).not.toBe("");
        expect(message).toMatch(/\.$/);
      }
      expect((await visitor().ask(`/api/calculators/${id}`, "{")).status).toBe(422);
    });
  },
);

describe("small services", () => {
  it("give what is due as a calendar that an independent program reads", async () => {
    const { body } = await visitor().ask(`/due/${calendarKey()}/due.ics`);
    const calendar = new ical.Component(ical.parse(body));
    const titles = calendar
      .getAllSubcomponents("vevent")
      .map((e) => String(e.getFirstPropertyValue("summary")));
    expect(titles.some((t) => t.includes("P-2"))).toBe(true);
    expect((await visitor().ask("/due/guessed/due.ics")).status).toBe(404);
  });

  it("tell how many events a run has, keep what is new once, and refuse what is nonsense", async () => {
    const played = new RunPlayer(libraryMethod("oxygen-drops"));
    const work = await openTestRun(hands.bench, played.state.method, "2026-04-12T08:00:00.000Z");
    const door = `/bench/${work}/events`;
    expect(JSON.parse((await visitor().ask(door)).body)).toEqual({ count: 1 });
    const step = played.state.method.steps[0]?.id;
    const event = { id: ulid(), at: "2026-04-12T08:00:05.000Z", type: "done", replicate: 0, step };
    const post = async (body: unknown) => {
      const { status, body: answer } = await visitor().ask(door, body as object);
      return { status, ...JSON.parse(answer) };
    };
    expect(await post({ events: [event] })).toMatchObject({
      status: 200,
      answers: [{ id: event.id, is: "kept" }],
    });
    expect(await post({ events: [event] })).toMatchObject({ answers: [{ id: event.id, is: "known" }] });
    expect(JSON.parse((await visitor().ask(door)).body)).toEqual({ count: 2 });
    for (const bad of ["{", { events: [] }, { events: Array.from({ length: 201 }, () => event) }]) {
      expect(await post(bad)).toMatchObject({ status: 422, message: "The request carries no events." });
    }
    const odd = { ...event, id: ulid(), type: "explode" };
    const next = { ...event, id: ulid(), step: played.state.method.steps[1]?.id };
    expect(await post({ events: [odd, next] })).toMatchObject({
      status: 200,
      answers: [
        { id: odd.id, is: "refused", code: "unreadable" },
        { id: next.id, is: "kept" },
      ],
    });
    expect(JSON.parse((await visitor().ask(door)).body)).toEqual({ count: 3 });
  });

  it("offer every place by name to the jump box", async () => {
    const places: { title: string }[] = JSON.parse((await visitor().ask("/jump")).body);
    const titles = JSON.stringify(places);
    for (const name of ["P-2", "Bathing pond", "Plan"]) expect(titles).toContain(name);
  });

  it("publish the schema of methods, by which every shipped one is valid JSON", async () => {
    const schema = JSON.parse((await visitor().ask("/schemas/method.json")).body);
    expect(schema.type).toBe("object");
    expect(schema.required).toEqual(expect.arrayContaining(["id", "steps", "hazards", "provenance"]));
  });
});
