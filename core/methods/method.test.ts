import { describe, expect, it } from "vitest";
import { libraryMethod } from "../simulation/runPlayer";
import { type Method, methodSchema, type WaitStep } from "./method";
import { coldFactor } from "./methodWords";

const refused = (change: (method: Method) => object) => {
  const parsed = methodSchema.safeParse(change(structuredClone(libraryMethod("nitrite-nitrate-strip"))));
  return parsed.success ? [] : parsed.error.issues.map((i) => i.message);
};

describe("a method's document", () => {
  it.each([
    ["interferences", "Give at least one of interferences."],
    ["hazards", "Give at least one of hazards."],
    ["protection", "Give at least one of protective equipment."],
  ] as const)("is refused without %s", (part, message) => {
    expect(refused((m) => ({ ...m, [part]: [] }))).toEqual([message]);
    expect(refused((m) => ({ ...m, [part]: [" "] })).length).toBe(1);
  });

  it("is refused without a range, waste, provenance, or hands", () => {
    expect(refused((m) => ({ ...m, range: { low: 5, high: 5 } }))).toEqual([
      "The range runs from a smaller to a larger value.",
    ]);
    expect(refused((m) => ({ ...m, waste: "" })).length).toBe(1);
    expect(refused((m) => ({ ...m, provenance: { ...m.provenance, source: "" } }))).toEqual([
      "Give the source.",
    ]);
    expect(
      refused((m) => ({ ...m, steps: m.steps.map((s) => ("hands_s" in s ? { ...s, hands_s: 0 } : s)) })),
    ).toContain("A step takes at least a second.");
  });

  it("names the step that is wrong", () => {
    const wait = (change: Partial<WaitStep>) =>
      refused((m) => ({ ...m, steps: m.steps.map((s, i) => (i === 3 ? { ...s, ...change } : s)) }));
    expect(wait({ from: "read-nitrate" })).toEqual([
      "Step 4 waits from a step that does not come before it.",
    ]);
    expect(refused((m) => ({ ...m, steps: [...m.steps, m.steps[0]] }))).toEqual([
      "Step 9 has the id of an earlier step.",
    ]);
    expect(refused((m) => ({ ...m, steps: m.steps.filter((s) => s.kind !== "read") }))).toContain(
      "A method reads something: add a step that reads.",
    );
    expect(refused((m) => ({ ...m, steps: m.steps.filter((s) => s.id !== "read-nitrate") }))).toContain(
      "No step reads the pad “at the end”.",
    );
  });

  it("of a hundred thousand steps is refused in a sentence, and at once", () => {
    expect(refused((m) => ({ ...m, steps: Array(100_000).fill(m.steps[0]) }))).toContain(
      "A method has at most 60 steps.",
    );
  });

  it("comes back from JSON as it went", () => {
    const method = libraryMethod("oxygen-burette");
    expect(methodSchema.parse(JSON.parse(JSON.stringify(method)))).toEqual(method);
  });

  it("waits longer in the cold by its own rule", () => {
    // Source: a rule of thumb, common practice: twice as long for every ten degrees below 20 °C, at most four times.
    const wait = libraryMethod("phosphate-photometer").steps.find((s) => s.kind === "wait") as WaitStep;
    expect([25, 20, 15, 10, 0, -3].map((t) => coldFactor(wait, t))).toEqual([1, 1, 2 ** 0.5, 2, 4, 4]);
    expect(coldFactor({ ...wait, cold: null }, 5)).toBe(1);
  });
});
