import { describe, expect, it } from "vitest";
import { resultsOf } from "../methodWords";
import { methodLibrary } from ".";

describe("the method library", () => {
  it("has every technique, and no id twice", () => {
    const techniques = new Set(methodLibrary.map((m) => m.measure.technique));
    expect([...techniques].sort()).toEqual([
      "burette",
      "capillary",
      "comparator",
      "digits",
      "drops",
      "meter",
      "ph-endpoint",
      "photometer",
      "photometer-curve",
      "strip",
      "syringe",
      "visual",
    ]);
    expect(new Set(methodLibrary.map((m) => m.id)).size).toBe(methodLibrary.length);
  });

  it.each(methodLibrary.map((m) => [m.id, m] as const))("%s states all that must be stated", (_, method) => {
    expect(method.range.low).toBeLessThan(method.range.high);
    for (const list of [method.interferences, method.hazards, method.protection]) {
      expect(list.length).toBeGreaterThan(0);
      expect(list.every((text) => text.trim().length > 3)).toBe(true);
    }
    expect(method.provenance.source.length).toBeGreaterThan(5);
    expect(method.waste).toBeTruthy();
    // What rests on the demo's own numbers says so, and is never sound where there is no kit.
    if (method.provenance.source.includes("demo"))
      expect(method.provenance.kind).toBe("invented for the demo");
    for (const step of method.steps) {
      if (step.kind === "wait") {
        expect(step.seconds).toBeGreaterThan(0);
        expect(method.steps.some((s) => s.id === step.from)).toBe(true);
        if (step.exact) expect(step.window_s).toBeGreaterThan(0);
      } else expect(step.hands_s).toBeGreaterThan(0);
    }
    expect(resultsOf(method).every((r) => r.species && r.unit)).toBe(true);
    // A technician is told to follow the safety sheet, whatever the method.
    expect(method.hazards.join(" ")).toMatch(/safety sheet/);
  });
});
