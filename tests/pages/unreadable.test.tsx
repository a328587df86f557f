import { describe, expect, it } from "vitest";
import { rawEvents } from "../../app/server/bench/eventStore.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { openTestRun } from "../../app/server/testing/benchRun";
import { beginCalibration, testNow } from "../../app/server/testing/testBench";
import { libraryMethod } from "../../core/simulation/runPlayer";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);

/** What an older or broken program could have left as the first event of a run. */
async function brokenRun(): Promise<string> {
  const { db } = hands.bench;
  const work = await openTestRun(hands.bench, libraryMethod("phosphate-photometer"), testNow);
  const [first] = await db("bench_events").where({ work_id: work });
  const payload = JSON.stringify({ ...JSON.parse(first.payload), sample: 42, dilution: "a lot" });
  await db("bench_events").where({ id: first.id }).update({ payload });
  return work;
}

describe("work of which something kept cannot be read", () => {
  it("stops no page: the rail shows it, and everything else goes on", async () => {
    const work = await brokenRun();
    const calibration = await beginCalibration(hands.bench);
    for (const path of ["/", "/runs", "/meters", "/ledger", `/calibrations/${calibration}`]) {
      expect((await visitor().open(path)).status, path).toBe(200);
    }
    const rail = await visitor().ask("/rail");
    expect(rail.status).toBe(200);
    expect(rail.body).toContain(work);
  });

  it("leads to a page that says so, where it can be given up; nothing of it is deleted", async () => {
    const work = await brokenRun();
    const opened = await visitor().open(`/runs/${work}`);
    expect([opened.status, opened.location]).toEqual([302, `/unreadable/${work}`]);
    expect((await visitor().open(`/unreadable/${work}`)).text).toContain("cannot be read");
    expect((await visitor().send(`/unreadable/${work}`, {})).location).toBe("/");
    const kept = await hands.bench.db("bench_work").where({ id: work }).first("status");
    expect(kept.status).toBe("abandoned");
    const events = (await rawEvents(hands.bench.db, [work])).get(work) as { type: string }[];
    expect(events.map((e) => e.type)).toEqual(["started", "abandoned"]);
    expect((await visitor().ask("/rail")).body).not.toContain(work);
  });

  it("takes no other event, and is given up once", async () => {
    const work = await brokenRun();
    const post = (type: string, n: number) =>
      visitor().ask(`/bench/${work}/events`, {
        events: [
          {
            id: `01J${String(n).padStart(23, "0")}`,
            at: testNow,
            by: "x",
            type,
            reason: "Torn.",
            replicate: 0,
          },
        ],
      });
    expect((await post("drop", 1)).body).toContain("unreadable-work");
    expect((await post("abandoned", 2)).body).toContain("kept");
    expect((await post("abandoned", 3)).body).toContain("unreadable-work");
  });
});

describe("the start of work", () => {
  it("is refused at its field where it could not be read again", async () => {
    const path = "/runs/new/phosphate-photometer";
    const fields = { site: hands.bench.site.id, sample: "x".repeat(300), dilution: "1" };
    const answer = await visitor().send(path, fields);
    expect(answer.status).toBe(422);
    expect(answer.text).toContain("Keep the sample's name under 41 characters");
    expect(await hands.bench.db("bench_work")).toEqual([]);
  });
});
