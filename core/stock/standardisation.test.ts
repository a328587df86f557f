import { describe, expect, it } from "vitest";
import { type NewEvent, replay } from "../bench/event";
import {
  nextOfStandardisation,
  type StandardisationState,
  standardisationFolding,
  standardisedOf,
  takenOf,
} from "./standardisation";
import { type StandardisationEvent, standardisationEventSchema } from "./standardisationEvents";
import { guideFor, standardisations } from "./standardisations";
import { standardise } from "./standardised";

/** A standardisation of thiosulfate against iodate, event by event. */
class Bench {
  events: StandardisationEvent[] = [];
  constructor(blank = false) {
    const [guide] = standardisations;
    if (!guide) throw new Error("No guide ships.");
    this.happen({
      type: "started",
      guide: { ...guide, blank },
      titrant: { lot_id: "t", code: "TS-1", strength: { value: 0.025, uncertainty: 0.0003 } },
      standard: { lot_id: "s", code: "IO-1", strength: { value: 0.025, uncertainty: 0.00001 } },
      portion_ml: 20,
      pipette_within_ml: 0.03,
      burette_within_ml: 0.03,
      place: "bench",
    });
  }
  happen(event: NewEvent<StandardisationEvent>): this {
    const n = String(this.events.length + 10);
    this.events.push(
      standardisationEventSchema.parse({
        ...event,
        id: `01J00000000000000000000${n}0`,
        at: `2026-04-12T08:00:${n}.000Z`,
        by: "p",
      }),
    );
    return this;
  }
  titrate(...volumes: number[]): this {
    for (const end_ml of volumes) this.happen({ type: "titrated", what: "portion", start_ml: 0, end_ml });
    return this;
  }
  get refused() {
    return replay(this.events, standardisationFolding).refused.map((r) => r.code);
  }
  get state(): StandardisationState {
    const { state } = replay(this.events, standardisationFolding);
    if (!state) throw new Error("Nothing was begun.");
    return state;
  }
  get next() {
    return nextOfStandardisation(this.state);
  }
}

describe("a standardisation", () => {
  // Source: by hand: 0.025 · 20 / 19.92, / 19.90, / 19.94; their mean and s / √3.
  it("gives the mean of what the portions give, and asks for three at least", () => {
    const bench = new Bench().titrate(19.92, 19.9);
    expect(bench.next).toMatchObject({ is: "portion", number: 3, because: "" });
    bench.titrate(19.94);
    expect(bench.next?.is).toBe("agree");
    const found = standardisedOf(bench.state);
    expect(found?.value).toBeCloseTo((0.5 / 19.92 + 0.5 / 19.9 + 0.5 / 19.94) / 3, 12);
    expect(found?.spread_percent).toBeCloseTo(0.1004, 3);
    expect(takenOf(bench.state)).toEqual({ standard_ml: 60, titrant_ml: expect.closeTo(59.76, 9) });
    expect(bench.happen({ type: "finished" }).state).toMatchObject({ status: "finished" });
    expect(bench.titrate(19.9).refused).toEqual(["closed"]);
  });

  it("asks for one more where they differ, and takes out what went wrong with its reason", () => {
    const bench = new Bench().titrate(19.92, 19.9, 20.4);
    expect(bench.next).toMatchObject({ is: "portion", number: 4 });
    expect((bench.next as { because: string }).because).toContain("They differ by 1.4");
    expect(bench.happen({ type: "finished" }).refused).toEqual(["not-agreed"]);
    bench.happen({ type: "left-out", portion: 2, reason: "overshot" }).titrate(19.94);
    expect(bench.next?.is).toBe("agree");
    // What was left out was used all the same.
    expect(takenOf(bench.state).titrant_ml).toBeCloseTo(80.16, 9);
    bench.happen({ type: "left-out", portion: 2, reason: "again" });
    bench.happen({ type: "left-out", portion: 9, reason: "none" });
    expect(bench.refused.slice(1)).toEqual(["left-out", "no-portion"]);
  });

  it("agrees at its limit and not beyond, at the bench and in the field", () => {
    const spread = (percent: number) => {
      // Two portions whose strengths lie s apart from their mean by s / √2.
      const half = percent / 100 / Math.SQRT2;
      return [0.5 / (0.025 * (1 + half)), 0.5 / (0.025 * (1 - half))];
    };
    const agreed = (percent: number, place: "bench" | "field") =>
      standardise(
        {
          standard: { value: 0.025, uncertainty: 0 },
          standard_ml: 20,
          titrant_ml: spread(percent),
          blank_ml: 0,
          pipette_within_ml: 0,
          burette_within_ml: 0,
          place,
        },
        "N",
      )?.accepted;
    expect([agreed(0.2, "bench"), agreed(0.201, "bench")]).toEqual([true, false]);
    expect([agreed(1, "field"), agreed(1.001, "field")]).toEqual([true, false]);
  });

  it("takes the blank first where one is wanted, and reckons without it", () => {
    const bench = new Bench(true).titrate(20);
    expect([bench.next, bench.refused]).toEqual([{ is: "blank" }, ["blank-first"]]);
    bench.happen({ type: "titrated", what: "blank", start_ml: 1, end_ml: 1.2 }).titrate(20.2, 20.2, 20.2);
    expect(standardisedOf(bench.state)?.value).toBeCloseTo(0.025, 12);
    bench.happen({ type: "titrated", what: "blank", start_ml: 1, end_ml: 1.2 });
    bench.happen({ type: "titrated", what: "portion", start_ml: 5, end_ml: 5 });
    expect(bench.refused.slice(1)).toEqual(["no-blank", "backwards"]);
  });

  // Source: GUM: the standard's share, the glass triangular, the mean of alike portions without a spread.
  it("is as unsure as its standard and its glass, however alike the portions are", () => {
    const found = standardisedOf(new Bench().titrate(20, 20, 20).state);
    const glass = Math.hypot(0.03 / Math.sqrt(6) / 20, 0.03 / Math.sqrt(6) / 20);
    expect((found?.uncertainty ?? 0) / 0.025).toBeCloseTo(Math.hypot(0.0004, glass), 12);
    expect(found?.working.join(" ")).not.toMatch(/NaN|undefined/);
  });

  it("cannot be reckoned where a portion took no more than the blank", () => {
    const bench = new Bench(true).happen({ type: "titrated", what: "blank", start_ml: 0, end_ml: 5 });
    expect(standardisedOf(bench.titrate(4, 4, 4).state)).toBeNull();
    expect((bench.next as { because: string }).because).toContain("no more than the blank");
  });

  it("is led for every titrant that ships, and in the house's own way for any other", () => {
    for (const guide of standardisations)
      expect(guideFor({ serves: [guide.titrant.toUpperCase()], name: "x", strength: null })).toEqual({
        guide,
        any: false,
      });
    expect(guideFor({ serves: [], name: "Permanganate", strength: null })).toMatchObject({
      guide: { titrant: "Permanganate", unit: "N" },
      any: true,
    });
  });
});
