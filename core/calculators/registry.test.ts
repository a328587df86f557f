import { describe, expect, it } from "vitest";
import { z } from "zod";
import { calculate, calculators } from "./registry";

const outputsOf = (id: string, inputs: unknown) => {
  const answer = calculate(id, inputs);
  if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
  return answer.outputs as Record<string, number>;
};
const errorsOf = (id: string, inputs: unknown) => {
  const answer = calculate(id, inputs);
  return "errors" in answer ? answer.errors : [];
};

describe("every calculator", () => {
  it.each(calculators.map((c) => [c.id, c] as const))(
    "%s answers its example with working and sources",
    (_id, calculator) => {
      const answer = calculator.run(calculator.example);
      if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
      expect(calculator.outputSchema.safeParse(answer.outputs).success).toBe(true);
      expect(answer.working.length).toBeGreaterThan(1);
      expect(answer.sources.length).toBeGreaterThan(0);
    },
  );

  it.each(calculators.map((c) => [c.id, c] as const))(
    "%s refuses nothing at all, with a path and a sentence",
    (_id, calculator) => {
      const answer = calculator.run({});
      if (!("errors" in answer)) throw new Error("accepted");
      for (const error of answer.errors) {
        expect(error.path).not.toBe("");
        expect(error.message).toMatch(/\w+.*\./);
      }
    },
  );

  it.each(calculators.map((c) => [c.id, c] as const))(
    "%s publishes a schema of its inputs",
    (_id, calculator) => {
      expect(z.toJSONSchema(calculator.inputSchema, { io: "input" })).toMatchObject({ type: "object" });
    },
  );
});

describe("ph-buffer", () => {
  it("reads between the temperatures of the table, and never beyond", () => {
    expect(outputsOf("ph-buffer", { buffer: "phosphate", temperature_c: 25 }).ph).toBe(6.865);
    expect(outputsOf("ph-buffer", { buffer: "technical-7", temperature_c: 22.5 }).ph).toBeCloseTo(7.01, 9);
    expect(errorsOf("ph-buffer", { buffer: "phosphate", temperature_c: 41 })[0]).toMatchObject({
      path: "temperature_c",
    });
  });
  it("names the buffers it knows", () => {
    expect(errorsOf("ph-buffer", { buffer: "vinegar", temperature_c: 20 })[0]?.message).toContain(
      "phthalate",
    );
  });
});

describe("ph-calibration", () => {
  const point = (buffer_ph: number, mv: number, temperature_c = 25) => ({ buffer_ph, mv, temperature_c });
  it("judges by the default house rules", () => {
    const verdict = (mv: number) =>
      outputsOf("ph-calibration", { points: [point(7, 0), point(4.01, mv)] }).verdict;
    expect(verdict(176.9)).toBe("sound");
    expect(verdict(164)).toBe("qualified");
    expect(verdict(150)).toBe("failed");
  });
  it("ignores unknown inputs and names the row of a bad one", () => {
    expect(
      errorsOf("ph-calibration", { points: [point(7, 0), { ...point(4, 170), mv: "x" }], note: 1 }),
    ).toEqual([{ path: "points.1.mv", message: "mv must be a number." }]);
  });
  it("refuses one buffer, or one buffer twice", () => {
    expect(errorsOf("ph-calibration", { points: [point(7, 0)] })[0]?.path).toBe("points");
    expect(errorsOf("ph-calibration", { points: [point(7, 0), point(7, 1)] })[0]?.message).toContain(
      "same buffer",
    );
  });
});

describe("ph-from-mv", () => {
  it("gives back the buffer's pH", () => {
    const inputs = { mv: 176.9, temperature_c: 25, slope_percent: 100, offset_mv: 0 };
    expect(outputsOf("ph-from-mv", inputs).ph).toBeCloseTo(4.01, 3);
  });
  it("refuses a slope of nothing", () => {
    expect(
      errorsOf("ph-from-mv", { mv: 1, temperature_c: 25, slope_percent: 0, offset_mv: 0 })[0]?.path,
    ).toBe("slope_percent");
  });
});

describe("an unknown calculator", () => {
  it("is refused with the ones that are known", () => {
    expect(errorsOf("alchemy", {})[0]?.message).toContain("ph-buffer");
  });
});
