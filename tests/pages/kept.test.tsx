import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const dilution = JSON.stringify({ c1: 200, c2: 10, v2: 50 });
const keep = (fields: Record<string, string> = {}) =>
  visitor().send("/solutions/dilution", { id: ulid(), inputs: dilution, for: "", note: "", ...fields });
const rows = () => hands.bench.db("kept_calculations");

describe("a calculation that is kept", () => {
  it("stands with the bottle it belongs to, once however often it is sent, and leads back to its working", async () => {
    const [lot] = hands.bench.lots;
    if (!lot) throw new Error("No lot.");
    const once = { id: ulid(), for: lot.lot.code.toLowerCase(), note: "for the curve of today" };
    expect((await keep(once)).status).toBe(200);
    await keep(once);
    expect(await rows()).toHaveLength(1);
    const page = await visitor().open(`/stock/${lot.id}`);
    expect(page.text).toContain("Calculations kept with it Dilution for the curve of today.");
    expect(page.html).toContain(`href="/solutions?for=${lot.lot.code}"`);
    const kept = await visitor().open(`/solutions/dilution?kept=${once.id}`);
    expect(kept.text).toContain(`for Lot ${lot.lot.code} : for the curve of today`);
    expect(kept.text).toContain("2.500 mL");
    expect(kept.text).not.toContain("reckoned otherwise");
    expect((await visitor().open("/solutions")).text).toContain("Kept last Dilution");
  });

  it("belongs to a meter or to nothing as well, and says what nobody knows", async () => {
    await keep({ for: hands.bench.meter.code });
    expect((await visitor().open(`/meters/${hands.bench.meter.id}`)).text).toContain(
      "Calculations kept with it Dilution",
    );
    await keep();
    expect((await rows().whereNull("subject_id")).length).toBe(1);
    const { status, text } = await keep({ for: "NOBODY-7" });
    expect([status, await rows()]).toMatchObject([422, { length: 2 }]);
    expect(text).not.toContain("undefined");
  });

  it.each([
    [{ inputs: "{" }],
    [{ inputs: "7" }],
    [{ inputs: JSON.stringify({ c1: 10, c2: 200, v2: 50 }) }],
    [{ note: "x".repeat(201) }],
    [{ id: "mine" }],
  ])("is refused with %o", async (wrong) => {
    expect((await keep(wrong)).status).toBe(422);
    expect(await rows()).toEqual([]);
  });

  it("says so where it is reckoned otherwise today", async () => {
    const id = ulid();
    await keep({ id });
    await rows()
      .where({ id })
      .update({ answer: JSON.stringify({ v1: 2.4 }) });
    const { text } = await visitor().open(`/solutions/dilution?kept=${id}`);
    expect(text).toContain("It is reckoned otherwise today.");
    expect(text).toContain("2.400");
  });

  it("is not another calculator's", async () => {
    const id = ulid();
    await keep({ id });
    expect((await visitor().open(`/solutions/mixing?kept=${id}`)).text).not.toContain("Kept on");
  });
});
