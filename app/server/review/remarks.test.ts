import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { verifyJournal } from "../bench/verifyJournal.server";
import { Forbidden } from "../platform/rights.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, phReading } from "../testing/testBench";
import { recordOf, recordReport } from "./record.server";
import { remark, remarkSchema, remarksOf } from "./remarks.server";

const use = benchForEachTest();
const now = "2026-04-20T12:00:00.000Z";

/** A reading of the bench. */
async function reading(): Promise<string> {
  await calibratedPh(use.bench, "2026-04-20T08:00:00.000Z");
  await phReading(use.bench, -40, "2026-04-20T09:00:00.000Z", "BP-1");
  return (await use.bench.db("readings").first("id")).id;
}

describe("a remark beside a result", () => {
  it("is kept once with its name and moment, and changes nothing of the result", async () => {
    const { db, person } = use.bench;
    const id = await reading();
    const before = await db("readings").where({ id }).first();
    const said = { id: ulid(), text: "Water was stirred up by a dog." };
    expect(await remark(db, id, said, person, now)).toBe(true);
    expect(await remark(db, id, said, person, now)).toBe(true);
    expect(await remarksOf(db, id)).toEqual([{ at: now, by: person.name, text: said.text }]);
    expect(await db("readings").where({ id }).first()).toEqual(before);
    const entries = await db("journal").where({ action: "result remarked on" });
    expect(entries).toHaveLength(1);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("stands in the record and on its paper, in the order of time", async () => {
    const { db, person } = use.bench;
    const id = await reading();
    await remark(db, id, { id: ulid(), text: "Second." }, person, "2026-04-20T12:05:00.000Z");
    await remark(db, id, { id: ulid(), text: "First." }, person, now);
    const record = await recordOf(db, id);
    expect(record?.steps.filter((s) => s.what === "remark").map((s) => s.says)).toEqual([
      "“First.”",
      "“Second.”",
    ]);
    if (!record) return;
    const paper = JSON.stringify(recordReport(record, { zone: "UTC", decimal_mark: "point" }));
    expect(paper).toContain("“First.”");
  });

  it("says something, belongs to a result, and is of somebody who measures", async () => {
    const { db, person } = use.bench;
    expect(remarkSchema.safeParse({ id: ulid(), text: " " }).success).toBe(false);
    expect(remarkSchema.safeParse({ id: "x", text: "a" }).success).toBe(false);
    expect(remarkSchema.safeParse({ id: ulid(), text: "x".repeat(501) }).success).toBe(false);
    expect(await remark(db, "none", { id: ulid(), text: "a" }, person, now)).toBe(false);
    const reader = { ...person, role: "read-only" as const };
    await expect(remark(db, await reading(), { id: ulid(), text: "a" }, reader, now)).rejects.toThrow(
      Forbidden,
    );
  });
});
