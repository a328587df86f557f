import { describe, expect, it } from "vitest";
import { findLot } from "../../app/server/stock/lots.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);

describe("a lot", () => {
  const buffer = {
    kind: "ph-buffer",
    material: "phosphate",
    code: "PH-686",
    expires_on: "2099-06-30",
    received_on: "2026-04-01",
    uncertainty: "0,005",
    shelf_life_open_days: "90",
  };

  it("is registered with a table of its own, and stands on the shelf", async () => {
    const sent = await visitor().send("/stock/new", { ...buffer, value_25: "6.863" });
    expect(sent.location).toMatch(/^\/stock\/[0-9A-Z]{26}$/);
    const page = await visitor().open(sent.location ?? "");
    expect(page.text).toContain("Lot PH-686");
    expect(page.html).toMatch(/<td[^>]*>6\.863<\/td>/);
    const shelf = await visitor().open("/stock");
    expect(/<li[^>]*>(?:(?!<\/li>).)*PH-686.*?<\/li>/s.exec(shelf.html)?.[0]).toContain("6.86");
  });

  it.each([
    [{ code: "" }, "Give the lot a code you can find on the bottle."],
    [{ expires_on: "soon" }, "Give a date as year-month-day."],
    [{ uncertainty: "-1" }, "An uncertainty is never negative."],
  ])("with %o is refused in words, and not kept", async (fields, sentence) => {
    const { status, text } = await visitor().send("/stock/new", { ...buffer, ...fields });
    expect(status).toBe(422);
    expect(text).toContain(sentence);
    expect(await hands.bench.db("lots").whereIn("code", ["", buffer.code])).toEqual([]);
  });

  it("has a code of its own", async () => {
    const { location } = await visitor().send("/stock/new", buffer);
    const again = await visitor().send("/stock/new", { ...buffer, expires_on: "2098-01-01" });
    expect(again.status).toBe(422);
    expect(again.text).toContain("There is a lot PH-686 already.");
    const [, , id = ""] = location?.split("/") ?? [];
    expect((await findLot(hands.bench.db, id))?.lot.expires_on).toBe("2099-06-30");
  });
});

describe("a site", () => {
  const race = { name: "Mill race", water: "stream", ph_low: "7.0", ph_high: "8.2" };

  it("is added with what is expected there, and counts among those of the day", async () => {
    const before = /of (\d+) sites? read today/.exec((await visitor().open("/")).text)?.[1];
    const { text } = await visitor().send("/sites", race);
    expect(text).toMatch(/Mill race.*7\.0 – 8\.2/);
    const after = /of (\d+) sites? read today/.exec((await visitor().open("/")).text)?.[1];
    expect(Number(after)).toBe(Number(before) + 1);
  });

  it.each([
    [{ ph_low: "seven" }, "“seven” is not a number."],
    [{ name: "" }, "Give the site a name."],
  ])("with %o is refused in words", async (fields, sentence) => {
    const { status, text } = await visitor().send("/sites", { ...race, ...fields });
    expect(status).toBe(422);
    expect(text).toContain(sentence);
  });

  it("has a name of its own", async () => {
    const again = await visitor().send("/sites", { ...race, name: hands.bench.site.name });
    expect(again.status).toBe(422);
    expect(again.text).toContain("There is a site of this name already.");
  });
});
