import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { seededRandom } from "../../../core/quantity/random";
import { postEvents } from "../bench/bench.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { startCalibration } from "../calibrations/startWork.server";
import { recordService } from "../meters/service.server";
import { addPerson } from "../people/people.server";
import { amendReading } from "../review/amend.server";
import {
  calibratedPond,
  liveCapture,
  openTestBench,
  phReading,
  pondReading,
  type TestBench,
  wholeRun,
} from "../testing/testBench";
import { meterReadingsOfWork } from "./readings.server";

/** So many minutes after eight. */
const at = (min: number) => new Date(Date.parse("2026-04-12T08:00:00.000Z") + min * 60_000).toISOString();
const evening = at(900);

/** Begins a calibration of the pH meter at a minute; what was captured comes when it comes. */
async function begun({ db, person, meter, lots }: TestBench, min: number): Promise<string> {
  const start = {
    work_id: ulid(Date.parse(at(min))),
    event_id: ulid(Date.parse(at(min))),
    actor: person,
    at: at(min),
  };
  const chosen = lots.map((stored, i) => ({
    measurand: "ph" as const,
    role: i < 2 ? ("point" as const) : ("check" as const),
    stored,
    reason: null,
  }));
  await startCalibration(db, start, meter, chosen, { conditions: null });
  return start.work_id;
}

/** What it captured, a share of what a perfect electrode gives and an offset, and its end, all at a minute. */
async function ended(
  bench: TestBench,
  work: string,
  min: number,
  share: number,
  offset_mv = 0,
): Promise<void> {
  const captures = [0, -178.1, -128.97].map((mv) => liveCapture(share * mv + offset_mv));
  const events = wholeRun(bench, captures, at(min)).map((e, i) => ({
    ...e,
    id: ulid(Date.parse(at(min)) + i),
  }));
  const posted = await postEvents(bench.db, bench.person, work, events, evening);
  if (posted.refused) throw new Error(posted.refused.message);
}

async function calibrated(bench: TestBench, min: number, share = 1, offset_mv = 0): Promise<void> {
  await ended(bench, await begun(bench, min), min + 5, share, offset_mv);
}

/** A check in the buffer of pH 7 at a minute, which finds the meter right or 0.3 pH off. */
async function checked(bench: TestBench, min: number, right: boolean): Promise<void> {
  const { db, person, meter, lots } = bench;
  const id = ulid(Date.parse(at(min)));
  const start = { work_id: id, event_id: id, actor: person, at: at(min) };
  const [seven = null] = lots;
  const step = { measurand: "ph" as const, role: "check" as const, stored: seven, reason: null };
  await startCalibration(db, start, meter, [step], { conditions: null, moment: "interim" });
  const events = wholeRun(bench, [liveCapture(right ? 0 : -17.75)], at(min)).map((e, i) => ({
    ...e,
    id: ulid(Date.parse(at(min)) + 1 + i),
  }));
  const posted = await postEvents(db, person, id, events, evening);
  if (posted.refused) throw new Error(posted.refused.message);
}

async function resultOf({ db }: TestBench, work: string) {
  const [result] = await meterReadingsOfWork(db, work);
  if (!result) throw new Error("Nothing was read.");
  const { value, verdict, findings, evidence } = result;
  const said = findings.find((f) => f.rule === "read-with-another-calibration");
  return {
    id: result.id,
    value: value ?? Number.NaN,
    verdict,
    said,
    by: evidence.calibration?.finished_at,
    findings,
  };
}

describe("a calibration that comes to be known late", () => {
  it("and has failed holds what was read since, as if it had been known", async () => {
    const bench = await openTestBench();
    await calibrated(bench, 0);
    const work = await begun(bench, 60);
    const before = await phReading(bench, -62, at(50));
    const since = await phReading(bench, -62, at(90));
    expect((await resultOf(bench, since)).verdict).toBe("sound");
    await ended(bench, work, 65, 0.5);
    const { verdict, findings } = await resultOf(bench, since);
    expect(verdict).toBe("held");
    expect(findings.map((f) => f.sentence)).toContain("The calibration in force failed.");
    expect((await resultOf(bench, before)).verdict).toBe("sound");
    const causes = await bench
      .db("reading_judgements")
      .orderBy("at")
      .where({ reading_id: `${since}-ph` })
      .pluck("cause");
    expect(causes).toContain("a calibration of before it became known");
    expect(await verifyJournal(bench.db)).toBeNull();
    await bench.db.destroy();
  });

  it("says what it gives where that is another, and leaves what was read", async () => {
    const bench = await openTestBench();
    await calibrated(bench, 0);
    const work = await begun(bench, 60);
    const since = await phReading(bench, -62, at(90));
    const read = await resultOf(bench, since);
    await ended(bench, work, 65, 0.97, -8);
    const { value, verdict, said, by, id } = await resultOf(bench, since);
    expect(value).toBe(read.value);
    expect(by).toBe(at(65));
    // −62 mV at an offset of −8 and 97.0 % of 59.16 mV: 7 + 54 / 57.4 = 7.94, where a perfect electrode gives 8.05.
    expect(said).toMatchObject({
      severity: "qualify",
      action: "Amend the value, or measure the sample again.",
    });
    expect(said?.sentence).toContain("this reads pH 7.94, not pH 8.05");
    expect(verdict).toBe("qualified");
    // Whoever amends it has seen it.
    const { judgements: judgement } = await bench.db("readings").where({ id }).first("judgements");
    const change = { what: "value" as const, text: "7.94", reason: "by the calibration of 9:05", judgement };
    expect(await amendReading(bench.db, id, change, bench.person, evening)).toBeNull();
    expect((await resultOf(bench, since)).said).toBeUndefined();
    await bench.db.destroy();
  });

  it("counts up to the next one, and changes nothing where it gives the same", async () => {
    const bench = await openTestBench();
    await calibrated(bench, 0);
    const [first, second] = [await begun(bench, 60), await begun(bench, 120)];
    const between = await phReading(bench, -62, at(100));
    const after = await phReading(bench, -62, at(200));
    await ended(bench, second, 125, 1);
    expect(await resultOf(bench, after)).toMatchObject({ verdict: "sound", by: at(125), said: undefined });
    expect((await resultOf(bench, between)).by).toBe(at(5));
    await ended(bench, first, 65, 0.999);
    const { verdict, by, said } = await resultOf(bench, between);
    expect([verdict, by, said?.severity]).toEqual(["sound", at(65), "ok"]);
    expect((await resultOf(bench, after)).by).toBe(at(125));
    await bench.db.destroy();
  });

  it("leaves who measured it, and what it does not speak of as it was judged", async () => {
    const bench = await openTestBench();
    const { db, pond, lots } = bench;
    await calibratedPond(bench, at(0));
    const idris = await addPerson(db, { name: "Idris", role: "technician" }, bench.person, at(0));
    if (!idris) throw new Error("There is an Idris already.");
    const step = (i: number) => ({ measurand: "ph" as const, stored: lots[i] ?? null, reason: null });
    const steps = [step(0), step(1), step(2)].map((s, i) => ({
      ...s,
      role: i < 2 ? ("point" as const) : ("check" as const),
    }));
    const work = ulid(Date.parse(at(60)));
    const start = { work_id: work, event_id: ulid(Date.parse(at(60))), actor: idris, at: at(60) };
    await startCalibration(db, start, pond, steps, { conditions: null });
    const read = await pondReading(bench, { conductivity: 500, ph: -62, oxygen: 80 }, at(90));
    await ended({ ...bench, person: idris }, work, 65, 0.97, -8);
    const judged: { parameter: string; judgements: number; person_id: string }[] = await db("readings")
      .where({ work_id: read, source: "meter" })
      .orderBy("parameter")
      .select("parameter", "judgements", "person_id");
    expect(judged).toEqual([
      { parameter: "conductivity", judgements: 1, person_id: bench.person.id },
      { parameter: "oxygen", judgements: 1, person_id: bench.person.id },
      { parameter: "ph", judgements: 2, person_id: bench.person.id },
    ]);
    await db.destroy();
  });

  it("had ended by the check that failed since, or by what was done to its sensor", async () => {
    for (const end of ["check", "service"]) {
      const bench = await openTestBench();
      const { db, meter, person } = bench;
      await calibrated(bench, 0);
      const work = await begun(bench, 60);
      if (end === "check") await checked(bench, 100, false);
      else {
        const service = {
          kind: "sensor-changed" as const,
          measurand: "ph",
          on_date: "2026-04-12",
          code: "",
          note: "",
        };
        await recordService(db, meter, service, person, at(100));
      }
      const since = await phReading(bench, -62, at(130));
      expect((await resultOf(bench, since)).verdict).toBe("held");
      await ended(bench, work, 65, 1);
      const { verdict, by, findings } = await resultOf(bench, since);
      expect([verdict, by]).toEqual(["held", at(65)]);
      expect(findings.map((f) => f.sentence)).toContain("The calibration of P-2 for pH had run out.");
      await db.destroy();
    }
  });

  it("leads to the same verdicts in whatever order ends come to be known", async () => {
    const random = seededRandom(Number(process.env.DAYS_SEED ?? 21));
    const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)] as T;
    const verdicts = new Set<string>();
    for (let day = 0; day < Number(process.env.DAYS ?? 2); day++) {
      const done = Array.from({ length: 10 }, (_, i) => ({
        from: 30 + i * 40,
        // Healthy, ageing, and broken; nothing where something is read or checked.
        share: i % 3 === 1 ? pick([1, 1.001, 0.999, 0.93, 0.5]) : null,
        mv: pick([-62, -20, 120]),
        right: i % 4 === 3 ? random() < 0.5 : null,
      }));
      const withDelays = async (delay: () => number) => {
        const bench = await openTestBench();
        await calibrated(bench, 0);
        const waiting: { at: number; end(): Promise<void> }[] = [];
        const works: string[] = [];
        for (const [i, { from, share, mv, right }] of done.entries()) {
          for (const { end } of waiting.filter((w) => w.at === i)) await end();
          if (share) {
            const work = await begun(bench, from);
            waiting.push({ at: i + 1 + delay(), end: () => ended(bench, work, from + 5, share) });
          } else if (right !== null) await checked(bench, from, right);
          else works.push(await phReading(bench, mv, at(from)));
        }
        for (const { end } of waiting.filter((w) => w.at >= done.length).sort((a, b) => b.at - a.at))
          await end();
        const results = [];
        for (const work of works) {
          const { verdict, by, findings, said } = await resultOf(bench, work);
          const rules = findings.filter((f) => f !== said && f.severity !== "ok").map((f) => f.rule);
          // What was read by another may be qualified for that alone.
          results.push([by, verdict === "held" ? "held" : "usable", ...rules].join(" "));
          verdicts.add(verdict);
        }
        expect(await verifyJournal(bench.db)).toBeNull();
        await bench.db.destroy();
        return results;
      };
      const inTime = await withDelays(() => 0);
      for (const delay of [() => 9, () => Math.floor(random() * 3)])
        expect(await withDelays(delay)).toEqual(inTime);
    }
    expect(verdicts.has("held")).toBe(true);
    expect(verdicts.has("sound")).toBe(true);
  });
});
