import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { formatNumber } from "../../../core/quantity/format";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { verifyJournal } from "../bench/verifyJournal.server";
import { openDatabase } from "../platform/engine.server";
import { findReading, judgementsOf, latestOfSite } from "../results/readings.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun, postPlayed } from "../testing/benchRun";
import { killedOnceReached } from "../testing/killed";
import { calibratedPh, openTestBench, phReading } from "../testing/testBench";
import { newPlace, testedOn } from "../testing/testDatabase";
import {
  bringFile,
  findImport,
  importLimits,
  keepMapping,
  newestImports,
  putAway,
  tableOf,
} from "./importFile.server";
import { lookAtImport, takeImport } from "./takeImport.server";
import { undoImport } from "./undoImport.server";

const use = benchForEachTest();
const now = "2026-04-20T12:00:00.000Z";
const head = "Site,Date,Parameter,Value,Unit";
const line = (day: number, value: string, parameter = "pH", site = "Bathing pond", unit = "") =>
  `${site},2026-03-${String(day).padStart(2, "0")} 10:00,${parameter},${value},${unit}`;
const file = (...lines: string[]) => [head, ...lines].join("\r\n");

/** Brings a file, and gives its id. */
async function bring(text: string, name = "old.csv"): Promise<string> {
  const kept = await bringFile(use.bench.db, { name, text }, use.bench.person, now);
  if ("message" in kept) throw new Error(kept.message);
  return kept.id;
}
const take = (id: string, partly = false) =>
  takeImport(use.bench.db, id, { partly, person_id: use.bench.person.id }, now);
const undo = (id: string) => undoImport(use.bench.db, id, "wrong site", use.bench.person, now);
const count = async (where: Record<string, unknown> = {}) =>
  Number((await use.bench.db("readings").where(where).count({ n: "*" }))[0]?.n);
const said = async (text: string) => {
  const kept = await bringFile(use.bench.db, { name: "x.csv", text }, use.bench.person, now);
  return "message" in kept ? kept.message : "kept";
};

describe("a file of results", () => {
  it("is looked at before anything is kept: what can be taken, what cannot, in which line and column and why", async () => {
    const id = await bring(
      file(line(1, "7.4"), line(2, "seven"), line(3, "7.6", "pH", "Nowhere"), line(1, "7.5")),
    );
    const looked = await lookAtImport(use.bench.db, id, now);
    expect(looked).toMatchObject({ taken: 1, refused: 3, message: null });
    expect(looked.why.map((r) => [r.line, r.column])).toEqual([
      [3, "Value"],
      [4, "Site"],
      [5, "pH"],
    ]);
    expect(await count()).toBe(0);
  });

  it("is what a test of the same water that came before it waited for", async () => {
    const { db } = use.bench;
    const method = libraryMethod("ammonia-salicylate");
    const [begun, other] = ["2026-03-01T10:20:00.000Z", "2026-03-20T10:20:00.000Z"];
    const works: string[] = [];
    for (const at of [begun, other]) {
      const work = await openTestRun(use.bench, method, at, { work: ulid(Date.parse(at)) });
      const played = new RunPlayer(method, {}, Date.parse(at)).play(0.5);
      await postPlayed(use.bench, work, played.events, at);
      works.push(work);
    }
    const free = (work?: string) => findReading(db, `${work}-ammonia-free-ammonia`);
    const id = await bring(file(line(1, "8.04"), line(1, "25", "Temperature"), line(9, "7.9")));
    expect(await free(works[0])).toBeUndefined();
    expect(await take(id)).toBeNull();
    // pH 8.04 at 25 °C: 5.85 % of 0.5 mg/L, times 1.2159. Source: Emerson et al. 1975.
    expect((await free(works[0]))?.value).toBeCloseTo(0.5 * 1.2159 * 0.0585, 3);
    expect(await free(works[1])).toBeUndefined();
    expect(await undo(id)).toBeNull();
    expect((await free(works[0]))?.verdict).toBe("held");
  });

  it("names its lines as a spreadsheet counts them, empty ones too", async () => {
    const id = await bring(`${head}\n\n${line(1, "7.4")}\n,,,,\n\n${line(2, "seven")}\n${line(1, "7.5")}\n`);
    const { why } = await lookAtImport(use.bench.db, id, now);
    expect(why.map((r) => r.line)).toEqual([6, 7]);
    expect(why[1]?.reason).toContain("stands in line 3");
  });

  it("is taken over whole or not at all; lines are left out only where somebody says so", async () => {
    const id = await bring(file(line(1, "7.4"), line(2, "seven")));
    expect(await take(id)).toContain("Some lines cannot be taken over.");
    expect(await count()).toBe(0);
    expect(await take(id, true)).toBeNull();
    expect(await count({ source: "imported" })).toBe(1);
    expect(await findImport(use.bench.db, id)).toMatchObject({ status: "taken", taken: 1 });
    expect(await tableOf(use.bench.db, id)).toBeNull();
    // A second press finds it done.
    expect(await take(id, true)).toBeNull();
    expect(await count()).toBe(1);
  });

  it("gives results that are qualified, never sound, and say where they come from", async () => {
    const id = await bring(
      file(line(1, "<0.05", "Nitrite as NO2-N", "Bathing pond", "mg/L"), line(1, "7.4")),
    );
    await take(id);
    const reading = await findReading(use.bench.db, `${id}-2`);
    expect(reading).toMatchObject({
      verdict: "qualified",
      shown: expect.stringMatching(/^<\s?0\.050$/),
      unit: "mg/L",
      source: "imported",
      by: "Noor",
    });
    expect(reading?.findings[0]?.sentence).toContain("what it rests on is not known here");
    expect((await judgementsOf(use.bench.db, `${id}-2`)).map((j) => j.cause)).toEqual(["first judgement"]);
    expect((await latestOfSite(use.bench.db, use.bench.site.id)).map((r) => r.id)).toContain(`${id}-3`);
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("asks about a value far from everything the site gave before", async () => {
    await take(
      await bring(
        file(...[1, 2, 3, 4].map((d) => line(d, "1.2", "Nitrate as NO3-N", "Bathing pond", "mg/L"))),
      ),
    );
    const id = await bring(file(line(9, "120", "Nitrate as NO3-N", "Bathing pond", "mg/L")));
    await take(id);
    const reading = await findReading(use.bench.db, `${id}-2`);
    expect(reading?.findings.map((f) => f.rule)).toEqual(["imported", "implausible"]);
  });

  it("that comes twice is taken once, and so is a line that the ledger has already", async () => {
    const text = file(line(1, "7.4"));
    await take(await bring(text));
    expect(await said(text)).toContain("This file was taken over before");
    const id = await bring(file(line(1, "7.4"), line(2, "7.5")));
    expect((await lookAtImport(use.bench.db, id, now)).why).toMatchObject([
      { line: 2, reason: "The ledger has a result of this moment already." },
    ]);
    await take(id, true);
    expect(await count()).toBe(2);
  });

  it("that was brought in twice without being taken over is one", async () => {
    expect(await bring(file(line(1, "7.4")))).toBe(await bring(file(line(1, "7.4"))));
  });

  it("pressed twice at once is taken once", async () => {
    const id = await bring(file(line(1, "7.4"), line(2, "7.5")));
    await Promise.all([take(id), take(id), take(id)]);
    expect(await count()).toBe(2);
    expect(await use.bench.db("journal").where({ action: "readings imported" })).toHaveLength(1);
  });

  it("that is taken over while another brings the same moments is not, and says so", async () => {
    const first = await bring(file(line(1, "7.4"), line(2, "7.5")), "first.csv");
    const second = await bring(file(line(2, "7.5"), line(3, "7.6")), "second.csv");
    const other = await bring(file(line(4, "7.7")), "other.csv");
    const [one, two, apart] = await Promise.all([take(first), take(second), take(other)]);
    expect(apart).toBeNull();
    // Which of the two comes later is not said, nor whether it has read its lines by then.
    const refusal = /^(Meanwhile another file brought|Some lines cannot be taken over)/;
    expect([one, two].filter((s) => s === null)).toHaveLength(1);
    expect(one ?? two).toMatch(refusal);
    const late = one === null ? second : first;
    expect((await lookAtImport(use.bench.db, late, now)).taken).toBe(1);
    expect(await take(late, true)).toBeNull();
    expect(await count()).toBe(4);
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("lends its columns to the next file with the same head", async () => {
    const { db, person } = use.bench;
    const text = (day: string) => `wann,Ort,Wert\n${day},Bathing pond,7.4`;
    const id = await bring(text("01.03.2026"));
    expect((await lookAtImport(db, id, now)).message).toContain("names the site");
    const mapping = { columns: { measured_at: "wann", site: "Ort" }, dates: "day-first" as const, site: "" };
    await keepMapping(db, id, ["wann", "Ort", "Wert"], mapping, person, now);
    expect((await lookAtImport(db, id, now)).message).toContain("names what was measured");
    expect((await findImport(db, await bring(text("02.03.2026"))))?.mapping).toEqual(mapping);
  });

  it("can be put away, and the ones there were are listed", async () => {
    const id = await bring(file(line(1, "7.4")));
    await putAway(use.bench.db, id, use.bench.person);
    expect(await newestImports(use.bench.db)).toEqual([]);
    expect(await lookAtImport(use.bench.db, id, now)).toMatchObject({
      message: "This file is not there any more.",
    });
    expect(await take(id)).toContain("not there any more");
  });

  it.each([
    ["", "Choose a file"],
    ["one column\n1\n2", "names the columns"],
    [head, "at least one line follows"],
    [`${head}\na,b`, "Line 2 has another number of columns"],
    [`${head}\n"a,b,c,d,e`, "In line 2 a quotation mark is opened and not closed"],
    [`${"c,".repeat(299)}c\n${"1,".repeat(299)}1`, "More than 200 columns"],
    [`${head}\n${`${line(1, "7")}\n`.repeat(importLimits.lines + 1)}`, "More than 200000 lines"],
  ])("that is no table is refused in a sentence (%#)", async (text, words) => {
    expect(await said(text)).toContain(words);
  });
});

describe("a file that is taken out again", () => {
  it("counts no longer, stays to be seen with its reason, and can be brought in once more", async () => {
    const { db, site } = use.bench;
    await calibratedPh(use.bench, "2026-04-12T08:00:00.000Z");
    const own = `${await phReading(use.bench, -40, "2026-04-12T09:00:00.000Z")}-ph`;
    const text = file(line(1, "7.4"), line(2, "7.5"), line(3, "600", "EC", "Bathing pond", "µS/cm"));
    const id = await bring(text);
    await take(id);
    expect(await undo(id)).toBeNull();
    expect(await count({ verdict: "void" })).toBe(3);
    const reading = await findReading(db, `${id}-2`);
    expect(reading?.findings.map((f) => f.sentence)).toContain("Taken out by Noor: wrong site");
    expect((await judgementsOf(db, `${id}-2`)).map((j) => j.verdict)).toEqual(["qualified", "void"]);
    expect((await latestOfSite(db, site.id)).map((r) => r.id)).toEqual([own]);
    expect(await undo(id)).toContain("nothing of this file");
    expect(await verifyJournal(db)).toBeNull();
    await take(await bring(text));
    expect(await count({ verdict: "qualified" })).toBe(3);
  });
});

/** Tables as nobody should send them: broken quotes, wild heads, numbers and dates of every kind, signs of every language. */
const malformed = fc.oneof(
  fc.string({ maxLength: 300, unit: "binary" }),
  fc
    .tuple(
      fc.array(
        fc.oneof(
          fc.constantFrom("Site", "Date", "pH", "EC (mS/cm)", "Value", "Parameter", "Unit", "__proto__"),
          fc.string({ maxLength: 12 }),
        ),
        {
          minLength: 1,
          maxLength: 7,
        },
      ),
      fc.array(
        fc.array(
          fc.oneof(
            fc.constantFrom(
              "Bathing pond",
              "2026-03-01",
              "7.4",
              "<0.03",
              "1,320",
              "pH",
              "",
              '"',
              "=1+1",
              "1e400",
              "-0",
              "NaN",
              "99999-01-01",
              "mg/L",
            ),
            fc.string({ maxLength: 20 }),
            fc.double().map((n) => formatNumber(Number.isFinite(n) ? n : 0, 3)),
          ),
          { maxLength: 8 },
        ),
        { maxLength: 6 },
      ),
      fc.constantFrom(",", ";", "\t"),
      fc.constantFrom("\n", "\r\n", "\r"),
    )
    .map(([names, rows, comma, end]) => [names, ...rows].map((r) => r.join(comma)).join(end)),
);

// Most are refused before any engine is asked.
it.skipIf(testedOn === "PostgreSQL")(
  "ten thousand malformed files are each refused or read in sentences: nothing breaks, and nothing half is taken",
  async () => {
    let taken = 0;
    await fc.assert(
      fc.asyncProperty(malformed, async (text) => {
        const kept = await bringFile(use.bench.db, { name: "x", text }, use.bench.person, now);
        if ("message" in kept) {
          expect(kept.message).toMatch(/[.]$/);
          return;
        }
        const looked = await lookAtImport(use.bench.db, kept.id, now);
        const before = await count();
        const refused = await take(kept.id);
        const whole = refused === null && looked.refused === 0 ? looked.taken : 0;
        taken += whole;
        expect(await count()).toBe(before + whole);
        await putAway(use.bench.db, kept.id, use.bench.person);
      }),
      { numRuns: 10_000, seed: 13 },
    );
    expect(await count()).toBe(taken);
  },
);

describe("a server that is killed while it takes a file over", () => {
  it("has all of it or nothing, and takes it over when it is asked again", async () => {
    const folder = mkdtempSync(join(tmpdir(), "brintel-import-"));
    const place = testedOn === "PostgreSQL" ? await newPlace() : join(folder, "bench.sqlite");
    const bench = await openTestBench(place);
    const many = Array.from(
      { length: 3000 },
      (_, i) =>
        `Bathing pond,20${String(10 + (i % 15)).padStart(2, "0")}-03-${String(1 + (i % 28)).padStart(2, "0")} ${String(i % 24).padStart(2, "0")}:${String(i % 60).padStart(2, "0")},pH,7.${i % 10},`,
    );
    const kept = await bringFile(
      bench.db,
      { name: "long.csv", text: file(...new Set(many)) },
      bench.person,
      now,
    );
    if ("message" in kept) throw new Error(kept.message);
    const looked = await lookAtImport(bench.db, kept.id, now);
    expect(looked.refused).toBe(0);
    await bench.db.destroy();
    const found = async () => {
      const db = await openDatabase(place, { migrate: false });
      const n = async (table: string) => Number((await db(table).count({ n: "*" }))[0]?.n);
      const state = {
        readings: await n("readings"),
        evidence: await n("reading_evidence"),
        judgements: await n("reading_judgements"),
        status: (await findImport(db, kept.id))?.status,
        journal: await verifyJournal(db),
      };
      await db.destroy();
      return state;
    };
    // While it reads, while it writes, and just before the end; on a second engine only then.
    for (const share of testedOn === "PostgreSQL" ? [0.9] : [0.3, 0.7, 0.9]) {
      await killedOnceReached("takeAndWait", place, kept.id, bench.person.id, String(share));
      expect(await found(), `killed at ${share}`).toEqual({
        readings: 0,
        evidence: 0,
        judgements: 0,
        status: "looked",
        journal: null,
      });
    }
    const db = await openDatabase(place, { migrate: false });
    expect(await takeImport(db, kept.id, { partly: false, person_id: bench.person.id }, now)).toBeNull();
    await db.destroy();
    expect(await found()).toMatchObject({
      readings: looked.taken,
      judgements: looked.taken,
      status: "taken",
    });
    rmSync(folder, { recursive: true });
  }, 120_000);
});
