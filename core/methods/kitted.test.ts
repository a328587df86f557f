import { describe, expect, it } from "vitest";
import { type Kit, kitSchema } from "../stock/kit";
import { factorOf, givenAs, kitNeed, supplies, unitOfKit, withKit } from "./kitted";
import { methodLibrary } from "./library";
import { type Method, methodSchema } from "./method";

const method = (id: string): Method => {
  const found = methodLibrary.find((m) => m.id === id);
  if (!found) throw new Error(`There is no method ${id}.`);
  return found;
};
const kit = (id: string, more: Partial<Kit> = {}): Kit =>
  kitSchema.parse({ method: id, source: "a leaflet", ...more });
const scale = (...steps: number[]) => ({ name: "", steps });
const led = (id: string, more: Partial<Kit>): Method => {
  const result = withKit(method(id), kit(id, more));
  if (!result.ok) throw new Error(result.error.message);
  return methodSchema.parse(result.value);
};

describe("a method as its kit leads it", () => {
  it("has the kit's six steps, their tints through those of the method, and the range they give", () => {
    const own = led("nitrate-tube", { scales: [scale(0, 1, 3, 6, 12, 20)] });
    if (own.measure.technique !== "comparator") throw new Error("It is a comparator.");
    expect(own.measure.scales).toHaveLength(1);
    expect(own.measure.scales[0]?.steps.map((s) => s.value)).toEqual([0, 1, 3, 6, 12, 20]);
    expect(own.range).toEqual({ low: 1, high: 20 });
    expect(own.detection_limit).toBeNull();
    const shipped = method("nitrate-tube").measure;
    if (shipped.technique !== "comparator") throw new Error("It is a comparator.");
    expect(own.measure.scales[0]?.steps.at(-1)?.colour).toBe(shipped.scales[0]?.steps.at(-1)?.colour);
  });

  // Source: atomic weights: 62.004 / 14.007 = 4.4267.
  it("reckons what is given as NO3 over to NO3-N", () => {
    const own = led("nitrate-tube", { given_as: "NO3", scales: [scale(0, 5, 10, 25, 50, 100)] });
    if (own.measure.technique !== "comparator") throw new Error("It is a comparator.");
    expect(own.measure.scales[0]?.steps.map((s) => s.value)[2]).toBeCloseTo(10 / 4.4267, 3);
    expect(own.measure.scales[0]?.steps[2]?.printed).toBe("10 NO3");
    expect(own.range.high).toBeCloseTo(100 / 4.4267, 2);
  });

  // Source: definition of the German degree, 17.848 mg/L of CaCO3.
  it("reckons degrees over to mg/L of calcium carbonate", () => {
    const own = led("hardness-digits", { given_as: "°dH", per_unit: 0.1 });
    if (own.measure.technique !== "digits") throw new Error("It counts digits.");
    expect(own.measure.multiplier).toBeCloseTo(1.7848, 4);
  });

  it("takes waits, doses, table, curve, drops and factor from it, and leaves what it does not say", () => {
    const wait = method("phosphate-photometer").steps.find((s) => s.kind === "wait");
    const dose = method("ammonia-iodomercurate").steps.find((s) => s.kind === "add");
    const powder = led("phosphate-photometer", {
      range: { low: 0.1, high: 3 },
      per_unit: 1.02,
      waits_s: { [wait?.id ?? ""]: 900 },
    });
    expect(powder.measure).toMatchObject({ factor: 1.02 });
    expect(powder.range).toEqual({ low: 0.1, high: 3 });
    expect(powder.steps.find((s) => s.id === wait?.id)).toMatchObject({ seconds: 900, max_s: 900 });
    expect(led("ammonia-iodomercurate", { doses: { [dose?.id ?? ""]: 6 } }).steps).toContainEqual({
      ...dose,
      amount: 6,
    });
    const rows = [
      { division: 1, value: 30 },
      { division: 4, value: 260 },
    ];
    expect(led("chloride-capillary", { table: rows })).toMatchObject({
      measure: { table: rows },
      range: { low: 30, high: 260 },
    });
    expect(led("phosphate-curve", { curve: { slope: 0.25, intercept: 0.01 } }).measure).toMatchObject({
      slope: 0.25,
      intercept: 0.01,
    });
    expect(led("oxygen-drops", { per_unit: 0.5 }).measure).toMatchObject({ per_drop: 0.5 });
    expect(led("oxygen-syringe", { per_unit: 0.9 }).measure).toMatchObject({ per_unit: 0.9 });
    expect(led("oxygen-burette", {})).toEqual(method("oxygen-burette"));
    expect(led("nitrate-tube", {})).toEqual(method("nitrate-tube"));
  });

  it("gives each pad of a strip its own scale, or is refused", () => {
    const pads = [scale(0, 2, 4), scale(0, 10, 40)];
    const own = led("nitrite-nitrate-strip", { scales: pads });
    if (own.measure.technique !== "strip") throw new Error("It is a strip.");
    expect(own.measure.pads.map((p) => p.steps.length)).toEqual([3, 3]);
    const one = withKit(
      method("nitrite-nitrate-strip"),
      kit("nitrite-nitrate-strip", { scales: pads.slice(1) }),
    );
    expect(one.ok ? "" : one.error.message).toContain("give a scale for each");
    const three = withKit(
      method("phosphate-ampoule"),
      kit("phosphate-ampoule", { scales: [scale(0, 1), scale(1, 2), scale(2, 3)] }),
    );
    expect(three.ok ? "" : three.error.message).toContain("one scale, or a low and a high one");
  });

  it("is refused for another method, and for what is given as something else", () => {
    const other = withKit(method("nitrate-tube"), kit("phosphate-tube"));
    expect(other.ok ? "" : other.error.code).toBe("other-method");
    expect(withKit(method("nitrate-tube"), kit("nitrate-tube", { given_as: "PO4" })).ok).toBe(false);
    expect(factorOf(kit("nitrate-tube", { given_as: "PO4" }), method("nitrate-tube").result).ok).toBe(false);
  });
});

describe("what a method needs of a kit", () => {
  it.each([
    ["nitrate-tube", "scale", { scales: [scale(0, 1)] }],
    [
      "chloride-capillary",
      "conversion table",
      {
        table: [
          { division: 1, value: 2 },
          { division: 2, value: 4 },
        ],
      },
    ],
    ["oxygen-drops", "value of a drop", { per_unit: 1 }],
    ["hardness-digits", "multiplier", { per_unit: 1 }],
    ["phosphate-photometer", "range", { range: { low: 0, high: 1 } }],
    ["phosphate-curve", "curve", { curve: { slope: 0.2, intercept: 0 } }],
    ["oxygen-syringe", "value of a unit", { per_unit: 1 }],
  ] as [string, string, Partial<Kit>][])("%s: its %s, and nothing less", (id, need, more) => {
    expect(kitNeed(method(id))).toBe(need);
    expect(supplies(method(id), kit(id))).toBe(false);
    expect(supplies(method(id), kit(id, more))).toBe(true);
  });

  it("is nothing for a burette, and species are offered within their family", () => {
    expect(kitNeed(method("oxygen-burette"))).toBeNull();
    expect(supplies(method("oxygen-burette"), kit("oxygen-burette"))).toBe(true);
    expect(givenAs(method("nitrate-tube").result)).toEqual(["NO3-N", "NO3"]);
    expect(givenAs(method("hardness-digits").result)).toContain("°dH");
    expect(unitOfKit({ given_as: "NO3" }, method("nitrate-tube").result)).toBe("mg/L NO3");
    expect(unitOfKit({ given_as: "" }, method("nitrate-tube").result)).toBe("mg/L NO3-N");
    expect(unitOfKit({ given_as: "°dH" }, method("hardness-digits").result)).toBe("°dH");
    expect(unitOfKit({ given_as: "" }, method("ph-strip").result)).toBe("pH");
  });
});
