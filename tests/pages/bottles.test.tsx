import { describe, expect, it } from "vitest";
import { rightOfRoute } from "../../app/server/platform/rights.server";
import { allBottleTypes, findBottleType } from "../../app/server/samples/bottleTypes.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { bottleTypes } from "../../core/samples/bottleTypes";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const manager = () => new Visitor(hands.bench, { ...hands.bench.person, role: "manager" });
const form = (more: Record<string, string> = {}) => ({
  name: "Algae, dark glass",
  fill: "neck",
  rinses: "2",
  pore_um: "",
  flush_ml: "",
  preservative: "iodine",
  cold: "on",
  holds_h: "72",
  arrives_c: "6",
  tests: "chlorophyll 24, counts 720 h",
  caution: "Iodine stains.",
  ...more,
});

describe("bottle types", () => {
  it("ship with what they are filled like and how long they keep", async () => {
    const { text } = await new Visitor(hands.bench).open("/bottles");
    for (const type of bottleTypes) expect(text).toContain(type.name);
    expect(text).toContain("hardness 180 days");
  });

  it("of the house are added and changed, each change a version, sent twice once", async () => {
    expect((await manager().send("/bottles/new", form())).location).toBe("/bottles");
    const { db } = hands.bench;
    expect((await findBottleType(db, "algae-dark-glass"))?.type).toMatchObject({
      version: 1,
      rinses: 2,
      filter: null,
      tests: [
        { parameter: "chlorophyll", holds_h: 24 },
        { parameter: "counts", holds_h: 720 },
      ],
    });
    const again = await manager().send("/bottles/new", form());
    expect([again.status, again.text.includes("There is a bottle of this name already.")]).toEqual([
      422,
      true,
    ]);
    await manager().send("/bottles/general", form({ name: "General", holds_h: "36", tests: "" }));
    expect((await findBottleType(db, "general"))?.type).toMatchObject({
      version: 2,
      holds_h: 36,
      name: "General",
    });
    expect(await allBottleTypes(db)).toHaveLength(bottleTypes.length + 1);
    expect((await manager().open("/visits")).text).toContain("Algae, dark glass");
  });

  it.each([
    [{ name: "" }, "Give it a name"],
    [{ rinses: "many" }, "“many” is not a number"],
    [{ holds_h: "0" }, "More than 0 h."],
    [{ tests: "chloride" }, "A test and its hours"],
    [{ arrives_c: "90" }, "At most 40 °C."],
    [{ rinses: "11" }, "Ten rinses are enough"],
    [{ pore_um: "-1" }, "More than 0 µm."],
    [{ already_in: "on" }, "A bottle that holds its preservative is not rinsed"],
    [{ already_in: "on", rinses: "0", preservative: "" }, "Say what stands in the bottle already."],
  ])("%j is refused at its field, and nothing is kept", async (wrong, words) => {
    const { status, text } = await manager().send("/bottles/new", form(wrong as Record<string, string>));
    expect(status).toBe(422);
    expect(text).toContain(words);
    expect(await hands.bench.db("bottle_types")).toEqual([]);
  });

  it("are changed by who changes methods, and by nobody else", async () => {
    const visitor = new Visitor(hands.bench, { ...hands.bench.person, role: "technician" });
    expect(rightOfRoute("/bottles/new")).toBe("methods");
    expect((await visitor.send("/bottles/new", form())).location).toBeNull();
    expect(await hands.bench.db("bottle_types")).toEqual([]);
    expect((await visitor.open("/bottles")).text).not.toContain("A type of your own");
    expect((await manager().open("/bottles/none")).status).toBe(404);
  });
});
