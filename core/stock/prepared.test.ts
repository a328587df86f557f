import { describe, expect, it } from "vitest";
import { type NewEvent, replay } from "../bench/event";
import { lotSchema } from "./lot";
import { nextOf, type PreparationState, preparationFolding, wanted } from "./preparation";
import { type Parent, type PreparationEvent, preparationEventSchema, type Recipe } from "./preparationEvents";
import { lotOf, preparedOf } from "./prepared";
import { recipes } from "./recipes";

const recipe = (id: string): Recipe => {
  const found = recipes.find((r) => r.id === id);
  if (!found) throw new Error(`There is no recipe ${id}.`);
  return found;
};

/** Plays a preparation of a litre to its end; amounts are as wanted unless told otherwise. */
class Maker {
  events: PreparationEvent[] = [];
  constructor(
    readonly made: Recipe,
    parent: Partial<Parent> = {},
    readonly volume_ml = 1000,
  ) {
    const parents = made.ingredients.map((i) => ({
      ingredient: i.key,
      lot_id: "l",
      code: "X-1",
      name: i.name,
      purity_percent: 100,
      strength: null,
      ...parent,
    }));
    this.happen({ type: "started", recipe: made, volume_ml, parents });
  }
  happen(event: NewEvent<PreparationEvent>): this {
    const n = String(this.events.length + 1).padStart(2, "0");
    const whole = {
      ...event,
      id: `01J0000000000000000000000${n.slice(-1)}`,
      at: `2026-04-12T08:00:${n}.000Z`,
      by: "p",
    };
    this.events.push(preparationEventSchema.parse({ ...whole, id: `01J00000000000000000000${n}0` }));
    return this;
  }
  get replayed() {
    return replay(this.events, preparationFolding);
  }
  get state(): PreparationState {
    const { state } = this.replayed;
    if (!state) throw new Error("Nothing was begun.");
    return state;
  }
  play(amount?: number, within = 0): this {
    for (let next = nextOf(this.state); next; next = nextOf(this.state)) {
      if (next.is === "ingredient") {
        const target = wanted(this.state, next.ingredient);
        this.happen({
          type: "taken",
          ingredient: next.ingredient.key,
          amount: amount ?? target.amount,
          within,
        });
      } else if (next.is === "step") this.happen({ type: "done", step: next.step.id });
      else this.happen({ type: "finished", code: "NEW-1", place: "shelf" });
    }
    return this;
  }
}

describe("what a recipe makes", () => {
  // Sources: Standard Methods 4500-O, -NO3, -P, -NH3, -Cl, 2340, 2510 (from memory): what each says its solution is.
  it.each([
    ["thiosulfate", 0.025, "N"],
    ["silver-nitrate", 0.0141, "N"],
    ["edta", 1, "mg/mL"],
    ["nitrate-stock", 100, "mg/L"],
    ["phosphate-stock", 50, "mg/L"],
    ["ammonia-stock", 100, "mg/L"],
    ["kcl-standard", 1412, "µS/cm"],
    ["nacl-stock", 10_000, "mg/L"],
    ["electrolyte", 75_000, "mg/L"],
  ])("%s: %f %s", (id, value, unit) => {
    const prepared = preparedOf(new Maker(recipe(id)).play().state);
    expect(prepared.unit).toBe(unit);
    expect((prepared.value ?? 0) / value).toBeCloseTo(1, 2);
    expect(prepared.working.join()).not.toMatch(/NaN|undefined/);
  });

  // Source: common practice: about 188 µS/cm expected of 100 mg/L near 20 °C; 210 at 25 °C.
  it("diluted from its stock, the sodium chloride standard has the conductivity that is expected of it", () => {
    const strength = { value: 10_000, uncertainty: 10, unit: "mg/L" as const, of: "NaCl" };
    const state = new Maker(recipe("nacl-standard"), { strength }).play(10, 0.02).state;
    const prepared = preparedOf(state);
    expect(prepared.value).toBeGreaterThan(205);
    expect(prepared.value).toBeLessThan(212);
    const lot = lotSchema.parse(lotOf(state, "2026-04-12", "NEW-1"));
    if (!("table" in lot)) throw new Error("It is a standard.");
    const at20 = lot.table.find((r) => r.temperature_c === 20)?.value;
    expect(at20).toBeGreaterThan(184);
    expect(at20).toBeLessThan(192);
    // What the stock is unsure of, the standard is.
    expect(prepared.uncertainty / (prepared.value ?? 1)).toBeGreaterThan(0.001);
    expect(lot.uncertainty).toBeCloseTo(2 * prepared.uncertainty, 9);
  });

  // Source: Standard Methods 2320 and 4500 (from memory): what these amounts a litre are stated to be.
  it.each([
    ["iodate-standard", 0.025, "N"],
    ["chloride-standard", 0.0141, "N"],
    ["carbonate-standard", 0.05, "N"],
    ["calcium-standard", 1, "mg/mL"],
  ])("%s is the standard it is called: %f %s", (id, value, unit) => {
    const prepared = preparedOf(new Maker(recipe(id)).play().state);
    expect([prepared.unit, Number((prepared.value ?? 0).toPrecision(3))]).toEqual([unit, value]);
  });

  it("dilutes an acid in its own unit, with the uncertainty of what it came of", () => {
    const strength = { value: 0.1, uncertainty: 0.0002, unit: "N" as const };
    const prepared = preparedOf(new Maker(recipe("acid"), { strength }).play(200, 0.1).state);
    expect([prepared.value, prepared.unit]).toEqual([expect.closeTo(0.02, 12), "N"]);
    expect(prepared.uncertainty / 0.02).toBeGreaterThan(0.002);
    // A stronger solution of another sort says nothing of it.
    const salt = { value: 10, uncertainty: 0, unit: "mg/mL" as const };
    expect(preparedOf(new Maker(recipe("acid"), { strength: salt }).play().state).value).toBeNull();
  });

  it("weighs more of what is impure, and reckons with what was weighed", () => {
    const maker = new Maker(recipe("thiosulfate"), { purity_percent: 99.5 });
    const [salt] = maker.made.ingredients;
    expect(salt && wanted(maker.state, salt).amount).toBeCloseTo(6.205 / 0.995, 9);
    expect(preparedOf(maker.play().state).value).toBeCloseTo(0.025, 4);
    const less = new Maker(recipe("nitrate-stock")).play(0.7, 0.0001);
    expect(preparedOf(less.state).value).toBeCloseTo(100 * (0.7 / 0.7218), 1);
  });

  // Source: GUM; flask of 1000 mL ± 0.3 mL and a balance of 0.0001 g read twice, by hand.
  it("is unsure by the balance, the purity, the flask, and by what it is until standardised", () => {
    const exact = preparedOf(new Maker(recipe("nitrate-stock")).play(0.7218, 0.0001).state);
    const balance = (0.0001 * Math.SQRT2) / 2 / Math.sqrt(3) / 0.7218;
    const flask = 0.3 / Math.sqrt(6) / 1000;
    expect(exact.uncertainty / (exact.value ?? 1)).toBeCloseTo(Math.hypot(balance, flask), 9);
    const rough = preparedOf(new Maker(recipe("thiosulfate")).play().state);
    expect(rough.uncertainty / (rough.value ?? 1)).toBeGreaterThan(0.02 / Math.sqrt(3));
  });

  it.each(recipes.map((r) => [r.id, r] as const))("%s is a lot that the shelf takes", (_id, made) => {
    const diluted = made.ingredients.some((i) => i.ml_l);
    const unit = made.makes.gives.what === "normality" ? ("N" as const) : ("mg/L" as const);
    const strength = diluted
      ? { value: unit === "N" ? 0.1 : 10_000, uncertainty: 0.0001, unit, of: "NaCl" }
      : null;
    const maker = new Maker(made, { strength }).play();
    const lot = lotSchema.safeParse(lotOf(maker.state, "2026-04-12", "NEW-1"));
    expect(lot.error?.issues).toBeUndefined();
    expect(lot.data).toMatchObject({ code: "NEW-1", opened_on: "2026-04-12", place: "shelf", size: 1000 });
  });
});

describe("the order of a preparation", () => {
  const refusedBy = (maker: Maker) => maker.replayed.refused.map((r) => r.code);
  it("is the recipe's: nothing is done before what comes first, and nothing labelled before the end", () => {
    const maker = new Maker(recipe("electrolyte"))
      .happen({ type: "done", step: "water" })
      .happen({ type: "finished", code: "X", place: "" })
      .happen({ type: "taken", ingredient: "sugar", amount: 75, within: 0 });
    expect(refusedBy(maker)).toEqual(["not-its-turn", "not-complete", "not-its-turn"]);
  });
  it("asks again where another solution would come of it", () => {
    const maker = new Maker(recipe("electrolyte")).happen({
      type: "taken",
      ingredient: "salt",
      amount: 7.5,
      within: 0.01,
    });
    expect(maker.replayed.refused[0]?.message).toContain("far from 75 g");
  });
  it("can be taken back while it is open, and not when it is made", () => {
    const maker = new Maker(recipe("electrolyte")).happen({
      type: "taken",
      ingredient: "salt",
      amount: 74,
      within: 0.01,
    });
    const taken = maker.events.at(-1);
    maker.happen({ type: "undone", target: taken?.id ?? "" });
    expect(maker.state.taken).toEqual({});
    maker.play().happen({ type: "abandoned", reason: "spilt" });
    expect(refusedBy(maker)).toEqual(["closed"]);
    const spilt = new Maker(recipe("electrolyte")).happen({ type: "abandoned", reason: "spilt" });
    expect([spilt.state.status, nextOf(spilt.state)]).toEqual(["abandoned", null]);
  });
});
