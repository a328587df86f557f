import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import type { Subject } from "../../../core/bench/subject";
import { seededRandom } from "../../../core/quantity/random";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { verifyJournal } from "../bench/verifyJournal.server";
import { openTestRun, postPlayed } from "../testing/benchRun";
import {
  calibratedPond,
  checkedPond,
  openTestBench,
  pondReading,
  type TestBench,
} from "../testing/testBench";
import { testedOn } from "../testing/testDatabase";
import { confirmRejudging } from "./rejudge.server";
import { runRejudging } from "./rejudgeRun.server";

/** So many minutes after eight. */
const at = (min: number) => new Date(Date.parse("2026-04-12T08:00:00.000Z") + min * 60_000).toISOString();
const right = { conductivity: 718, ph: 0, oxygen: 90 };

/** Something that was done on a bench at its moment; it may come to be known later than what came after it. */
interface Done {
  label: string;
  keep(bench: TestBench): Promise<string>;
}

/** A run of a method, finished. */
async function ran(
  bench: TestBench,
  method: string,
  begun: string,
  size: number,
  subject: Subject,
): Promise<string> {
  const work = await openTestRun(bench, libraryMethod(method), begun, {
    work: ulid(Date.parse(begun)),
    subject,
  });
  const played = new RunPlayer(libraryMethod(method), { subject }, Date.parse(begun)).play(size);
  const posted = await postPlayed(bench, work, played.events, begun);
  if (posted.refused) throw new Error(posted.refused.message);
  return work;
}

/** What is done on a bench in a morning, by chance: readings, checks that pass or fail, runs with their blanks and controls. */
function morning(random: () => number): Done[] {
  const chance = (share: number) => random() < share;
  const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
  const done: Done[] = [];
  let minute = 0;
  for (let i = 0; i < 7; i++) {
    minute += whole(20, 40);
    const when = at(minute);
    const kind = random();
    const add = (what: string, keep: Done["keep"]) => done.push({ label: `${what} ${i}`, keep });
    if (kind < 0.35) {
      const water = { conductivity: 600 + whole(-9, 9) * 20, ph: -62 + whole(-5, 5) * 8, oxygen: 85 };
      add("reading", (bench) => pondReading(bench, water, when));
    } else if (kind < 0.6) {
      const read = chance(0.5) ? right : { ...right, ph: -17.75, conductivity: chance(0.5) ? 718 : 760 };
      const moment = chance(0.3) ? "closing" : "interim";
      add("check", (bench) => checkedPond(bench, read, when, moment));
    } else {
      const [size, subject]: [number, Subject] =
        kind < 0.7
          ? [chance(0.5) ? 0 : 0.3, { kind: "blank", of: "reagent" }]
          : kind < 0.8
            ? [
                chance(0.5) ? 1 : 1.6,
                { kind: "control", code: "CS-1", lot_id: null, expected: 1, uncertainty: null },
              ]
            : [0.6 + whole(0, 4) / 10, { kind: "sample" }];
      const method = subject.kind === "sample" && chance(0.5) ? "ammonia-salicylate" : "phosphate-photometer";
      add("run", (bench) => ran(bench, method, when, size, subject));
    }
  }
  return done;
}

/** What the ledger says when all came to be known in some order and whatever was asked for was done: by result, its value, verdict and findings. */
async function ledgerAfter(done: readonly Done[], order: readonly number[]): Promise<Map<string, string>> {
  const bench = await openTestBench();
  await calibratedPond(bench, at(0));
  const works = new Map<string, Done>();
  for (const i of order) {
    const one = done[i] as Done;
    works.set(await one.keep(bench), one);
  }
  for (const one of done) {
    const work = [...works].find(([, known]) => known === one)?.[0] ?? "";
    const asked = await bench.db("checks").where({ work_id: work, passed: false }).first("id");
    if (!asked) continue;
    const request = { kind: "check" as const, subject_id: work };
    await runRejudging(
      bench.db,
      await confirmRejudging(bench.db, request, "drift", bench.person, at(600)),
      at(600),
    );
  }
  expect(await verifyJournal(bench.db)).toBeNull();
  const rows: {
    work_id: string;
    parameter: string;
    value: number | null;
    verdict: string;
    findings: string;
  }[] = await bench
    .db("readings")
    .whereIn("work_id", [...works.keys()])
    .select("work_id", "parameter", "value", "verdict", "findings");
  await bench.db.destroy();
  return new Map(
    rows.map(({ work_id, parameter, value, verdict, findings }) => {
      const sentences = (JSON.parse(findings) as { sentence: string }[]).map((f) => f.sentence);
      return [
        `${works.get(work_id)?.label}: ${parameter}`,
        [value?.toPrecision(9) ?? "none", verdict, ...sentences].join(" "),
      ];
    }),
  );
}

describe("the ledger", () => {
  it("says the same of each result in whatever order things come to be known", async () => {
    const random = seededRandom(3);
    const mornings = testedOn === "PostgreSQL" ? 2 : 6;
    let compared = 0;
    for (let i = 0; i < mornings; i++) {
      const done = morning(random);
      const straight = done.map((_, k) => k);
      const inTime = await ledgerAfter(done, straight);
      for (const order of [[...straight].reverse(), [...straight].sort(() => random() - 0.5)]) {
        const said = order.map((k) => done[k]?.label).join(", ");
        expect(Object.fromEntries(await ledgerAfter(done, order)), said).toEqual(Object.fromEntries(inTime));
        compared += inTime.size;
      }
    }
    expect(compared).toBeGreaterThan(10 * mornings);
  });
});
