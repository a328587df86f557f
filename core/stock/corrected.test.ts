import { describe, expect, it } from "vitest";
import { certifiedTable } from "./certificates";
import { correctionsOf, judgedOtherwise, reckonedOtherwise } from "./corrected";
import { type Lot, lotSchema } from "./lot";

const standard = (change: object = {}): Lot => {
  const { table } = certifiedTable("conductivity-standard", "", null, { value_25: 718, percent_per_c: 1.91 });
  return lotSchema.parse({
    kind: "conductivity-standard",
    code: "EC-1",
    name: "Conductivity 718 µS/cm",
    material: "",
    reference: null,
    uncertainty: 7,
    table,
    received_on: "2026-01-01",
    opened_on: "2026-04-01",
    expires_on: "2026-03-01",
    shelf_life_open_days: 60,
    size: 500,
    portion: 25,
    unit: "mL",
    place: "",
    hazards: [],
    withdrawn: null,
    discarded: null,
    ...change,
  }) as Lot;
};

const strips = (change: object = {}): Lot =>
  lotSchema.parse({
    kind: "strips",
    code: "NS-1",
    name: "Nitrate strips",
    serves: ["Nitrate strips"],
    strength: null,
    formula: "",
    purity_percent: null,
    kit: {
      method: "nitrite-nitrate-strip",
      source: "leaflet 3",
      scales: [{ name: "", steps: [0, 1, 5] }],
    },
    received_on: "2026-01-01",
    opened_on: null,
    expires_on: "2027-03-01",
    shelf_life_open_days: null,
    size: null,
    portion: null,
    unit: "strips",
    place: "",
    hazards: [],
    withdrawn: null,
    discarded: null,
    ...change,
  }) as Lot;

describe("what is corrected of a lot", () => {
  // Source: common practice: what was written beside a value changes no number that was reckoned with it.
  it("is said in words, each with what stood there", () => {
    const after = standard({
      expires_on: "2027-03-01",
      opened_on: null,
      portion: 50,
      shelf_life_open_days: 90,
    });
    expect(correctionsOf(standard(), after)).toEqual([
      "expires: 1 Mar 2027, not 1 Mar 2026",
      "opened: not opened, not 1 Apr 2026",
      "keeps, once opened: 90 d, not 60 d",
      "one use takes: 50 mL, not 25 mL",
    ]);
    expect(correctionsOf(strips(), strips({ size: 50, name: "Strips" }))).toEqual([
      "name: “Strips”, not “Nitrate strips”",
      "in it: 50 strips, not nothing said",
    ]);
  });

  it("is judged by where it is a day, or how long it keeps", () => {
    for (const change of [{ expires_on: "2027-01-01" }, { opened_on: null }, { shelf_life_open_days: 61 }])
      expect(judgedOtherwise(standard(), standard(change))).toBe(true);
    for (const change of [{ name: "Other" }, { size: 250 }, { portion: 1 }, { received_on: "2026-01-02" }])
      expect(judgedOtherwise(standard(), standard(change))).toBe(false);
  });

  it("is nothing where all is as it was", () => {
    expect(correctionsOf(standard(), standard())).toEqual([]);
    expect(correctionsOf(strips(), strips())).toEqual([]);
  });

  it("touches what is reckoned only by its code, its value, its strength and its leaflet", () => {
    expect(reckonedOtherwise(standard(), standard({ expires_on: "2028-01-01", name: "Other" }))).toEqual([]);
    expect(reckonedOtherwise(standard(), standard({ code: "EC-2", uncertainty: 5 }))).toEqual([
      "code",
      "uncertainty",
    ]);
    const scale = { ...(strips() as { kit: object }).kit, scales: [{ name: "", steps: [0, 1, 10] }] };
    expect(reckonedOtherwise(strips(), strips({ kit: scale }))).toEqual(["what its leaflet says"]);
    expect(correctionsOf(strips(), strips({ kit: scale }))).toEqual(["what its leaflet says corrected"]);
  });

  it("does not take the last digits of a table that was reckoned anew for another value", () => {
    const anew = (value_25: number) =>
      standard({
        table: certifiedTable("conductivity-standard", "", null, { value_25, percent_per_c: 1.910000001 })
          .table,
      });
    expect(reckonedOtherwise(standard(), anew(718))).toEqual([]);
    expect(reckonedOtherwise(standard(), anew(719))).toEqual(["certified value"]);
    expect(correctionsOf(standard(), anew(719))).toEqual(["certified value corrected"]);
  });
});
