import { describe, expect, it } from "vitest";
import { forecastOf } from "./forecast";
import { kitSchema } from "./kit";
import { isStandard, lotCondition, lotSchema } from "./lot";
import { type SupplyLot, servesAs } from "./supply";

const titrant: SupplyLot = {
  kind: "titrant",
  code: "TS-1",
  name: "Thiosulfate",
  serves: ["Sodium thiosulfate 0.0250 N"],
  strength: { value: 0.0251, uncertainty: 0.00005, unit: "N" },
  formula: "",
  purity_percent: null,
  kit: null,
  received_on: "2026-01-01",
  opened_on: "2026-01-10",
  expires_on: "2027-01-01",
  shelf_life_open_days: null,
  size: 1000,
  portion: 10,
  unit: "mL",
  place: "",
  hazards: [],
  withdrawn: null,
  discarded: null,
};

describe("a lot that is no standard", () => {
  it("is known by its kind, and serves by name whatever the letters", () => {
    const parsed = lotSchema.parse(titrant);
    expect(isStandard(parsed)).toBe(false);
    expect(servesAs(titrant, "sodium THIOSULFATE 0.0250 n")).toBe(true);
    expect(servesAs(titrant, "Starch indicator")).toBe(false);
  });
  it("keeps until its printed date where nobody says how long once opened", () => {
    expect(lotCondition(titrant, "2026-12-31")).toMatchObject({ state: "good", good_until: "2027-01-01" });
    expect(lotCondition(titrant, "2027-01-02").state).toBe("expired");
  });
  it("is refused with a sentence at its field", () => {
    const wrong = (change: Partial<SupplyLot>) =>
      lotSchema.safeParse({ ...titrant, ...change }).error?.issues.map((i) => [i.path.join("."), i.message]);
    expect(wrong({ serves: [] })).toEqual([["serves", "Say which titrant of a method it is."]]);
    expect(wrong({ purity_percent: 101 })).toEqual([["purity_percent", "Not more than 100 %."]]);
    expect(wrong({ portion: 2000 })).toEqual([["portion", "One use is not more than there is."]]);
    expect(wrong({ kit: kitSchema.parse({ method: "oxygen-burette", source: "x" }) })).toEqual([
      ["kit", "A titrant is no kit."],
    ]);
    expect(lotSchema.safeParse({ ...titrant, kind: "lemonade" }).error?.issues.map((i) => i.message)).toEqual(
      ["Choose what kind of thing it is."],
    );
  });
});

describe("the leaflet of a kit", () => {
  const wrong = (change: object) =>
    kitSchema.safeParse({ method: "nitrate-tube", source: "x", ...change }).error?.issues[0]?.message;
  it.each([
    [{ source: " " }, "Say which leaflet its numbers are from."],
    [{ scales: [{ name: "", steps: [1] }] }, "A scale has at least two steps."],
    [{ scales: [{ name: "", steps: [0, 2, 1] }] }, "The steps of a scale rise."],
    [
      {
        table: [
          { division: 1, value: 2 },
          { division: 2, value: 1 },
        ],
      },
      "The rows of a table rise in both columns.",
    ],
    [{ range: { low: 2, high: 1 } }, "The range runs from a smaller to a larger value."],
    [{ per_unit: 0 }, "the value is more than zero."],
  ])("%j is refused: %s", (change, sentence) => {
    expect(wrong(change)).toBe(sentence);
  });
});

describe("when a lot runs out", () => {
  it("follows from how it was used in eight weeks", () => {
    expect(forecastOf({ left: 20, taken: 40, since: "2026-03-01" }, "2026-03-29")).toEqual({
      per_week: 10,
      lasts_until: "2026-04-12",
    });
  });
  it("counts a week at least, and no more than eight", () => {
    expect(forecastOf({ left: 14, taken: 2, since: "2026-03-28" }, "2026-03-29")?.per_week).toBe(2);
    expect(forecastOf({ left: 8, taken: 8, since: "2025-01-01" }, "2026-03-29")?.per_week).toBe(1);
  });
  it("is not said while nothing is known", () => {
    expect(forecastOf({ left: null, taken: 2, since: "2026-03-01" }, "2026-03-29")).toBeNull();
    expect(forecastOf({ left: 10, taken: 0, since: null }, "2026-03-29")).toBeNull();
  });
});
