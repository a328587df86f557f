import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../testing/benchForEachTest";
import { testLot } from "../testing/testBench";
import { addLot, pastLots } from "./lots.server";

const use = benchForEachTest();

describe("lots that ran out long ago", () => {
  it("are all found, page by page, though many ran out on one day", async () => {
    const { db, person } = use.bench;
    const codes = Array.from({ length: 120 }, (_, i) => `OLD-${i}`);
    for (const [i, code] of codes.entries()) {
      const expires_on = i % 3 === 0 ? "2025-01-31" : "2025-06-30";
      const lot = testLot("ph-buffer", "technical-7", 7, { code, expires_on, opened_on: null });
      await addLot(db, lot, person, "2024-12-01T08:00:00.000Z");
    }
    const found: string[] = [];
    let pages = 0;
    for (let before: string | null = null; pages === 0 || before; pages++) {
      const page = await pastLots(db, "2026-04-12", before);
      found.push(...page.lots.map((l) => l.lot.code));
      before = page.next;
    }
    expect(pages).toBe(3);
    expect(found).toHaveLength(codes.length);
    expect(new Set(found)).toEqual(new Set(codes));
  });
});
