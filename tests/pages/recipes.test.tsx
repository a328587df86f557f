import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { lotSchema } from "../../core/stock/lot";
import { makeSolution, salt } from "./makeSolution";
import { Visitor } from "./pages";

const hands = benchForEachTest("own");
const manager = () => new Visitor(hands.bench, { ...hands.bench.person, role: "manager" });

/** A nitrite stock as somebody writes it down: 0.4925 g of NaNO2 a litre are 100 mg/L of nitrogen. */
const nitrite = {
  version: "0",
  name: "Nitrite stock, 100 mg/L as N",
  kind: "reagent",
  gives: "mg_l",
  of: "NO2-N",
  equivalents: "",
  rough_percent: "",
  "name-0": "Sodium nitrite, dried",
  "formula-0": "NaNO2",
  "amount-0": "0.4925",
  "unit-0": "g_l",
  "name-1": "",
  "formula-1": "",
  "amount-1": "",
  steps: "Dissolve it in half of the water.\nLet it stand closed. [15 min]\nMake up to the mark.",
  volume_ml: "1000",
  keeps_days: "30",
  serves: "Nitrite stock",
  hazard: ["toxic", "oxidising"],
  cautions: "Gloves: it is poisonous.",
  source: "common practice",
};
const keep = (fields: Record<string, string | string[]>, at = "new") =>
  manager().send(`/stock/recipes/${at}`, { do: "keep", ...nitrite, ...fields });
const rows = () => hands.bench.db("recipes").orderBy("version");

describe("a recipe of one's own", () => {
  it("is written, looked at before it is kept, and made like those that ship", async () => {
    const looked = await keep({ do: "look" });
    // N is 14.007 of 68.995: 0.4925 g/L of NaNO2 are 99.98 mg/L of it.
    expect(looked.text).toContain("As it is written it is 99.98 mg/L NO2-N.");
    expect(await rows()).toEqual([]);
    const { location } = await keep({});
    expect(location).toBe("/stock/prepare?recipe=own-nitrite-stock-100-mg-l-as-n");
    await new Visitor(hands.bench).send("/stock/new", {
      ...salt,
      code: "NANO2-1",
      name: "Sodium nitrite",
      formula: "NaNO2",
    });
    const begin = await manager().open(location ?? "");
    expect(begin.html).toContain('value="NANO2-1"');
    expect((await manager().open("/stock/prepare")).text).toContain("Your own, version 1.");
    const work = await makeSolution(
      hands.bench,
      "own-nitrite-stock-100-mg-l-as-n",
      { "from-part-1": "NANO2-1" },
      "NIT-1",
    );
    const page = await manager().open(`/stock/preparations/${work}`);
    expect(page.text).toContain("It is made, and stands there as NIT-1.");
    const made = lotSchema.parse(
      JSON.parse((await hands.bench.db("lots").where({ code: "NIT-1" }).first()).document),
    );
    expect(made).toMatchObject({
      serves: ["Nitrite stock"],
      hazards: ["oxidising", "toxic"],
      strength: { unit: "mg/L", of: "NO2-N" },
    });
    expect("strength" in made ? made.strength?.value : 0).toBeCloseTo(99.98, 1);
  });

  it("changes by a next version with a reason; the same form again is no version", async () => {
    const { location } = await keep({});
    const id = location?.split("=").at(-1) ?? "";
    expect((await keep({ version: "1", keeps_days: "14" }, id)).text).toContain("Say why it changes.");
    const next = { version: "1", keeps_days: "14", reason: "it turned yellow" };
    await keep(next, id);
    await keep(next, id);
    expect((await rows()).map((r) => [r.version, r.reason])).toEqual([
      [1, "written"],
      [2, "it turned yellow"],
    ]);
    // Somebody who still looks at the first version does not overwrite the second.
    const late = await keep({ version: "1", keeps_days: "7", reason: "shorter" }, id);
    expect(late.text).toContain("Somebody changed it meanwhile");
    expect(await rows()).toHaveLength(2);
  });

  it.each([
    [{ name: "" }, "This must not stay empty."],
    [{ of: "PO4-P" }, "There is no P in it."],
    [{ "formula-0": "" }, "give that of what is weighed"],
    [{ "amount-0": "some" }, "“some” is not a number"],
    [{ "amount-0": "" }, "Give a number."],
    [{ keeps_days: "a week" }, "“a week” is not"],
    [{ steps: `${"x".repeat(301)}` }, "Keep it under 301 characters."],
    [{ source: "" }, "This must not stay empty."],
  ])("with %o is refused in words, and nothing that was typed is lost", async (wrong, words) => {
    const { status, text } = await keep(wrong);
    expect(status).toBe(422);
    expect(text).toContain(words);
    expect(text).toContain("What you typed is still there.");
    expect(await rows()).toEqual([]);
  });

  it("never takes the place of one that ships, nor of another", async () => {
    await keep({});
    expect((await keep({ keeps_days: "5" })).text).toContain("A recipe of this name is there already");
    expect((await manager().open("/stock/recipes/nacl-stock")).status).toBe(404);
    const copy = await manager().open("/stock/recipes/new?from=nitrate-stock");
    expect(copy.text).toContain("It begins as Nitrate stock, 100 mg/L as N.");
    expect(copy.html).toContain('value="KNO3"');
  });

  it("is not written by who may not", async () => {
    const technician = new Visitor(hands.bench, { ...hands.bench.person, role: "technician" });
    expect((await technician.open("/stock/prepare")).text).not.toContain("Write a recipe");
    const sent = technician.send("/stock/recipes/new", { do: "keep", ...nitrite });
    expect((await sent).text).toContain("you may look, but not change methods, recipes and bottles");
    expect(await rows()).toEqual([]);
  });
});
