import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { plainMath, workingMath } from "../quantity/workingMath";
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

  it("nothing of the working is lost when it is set as mathematics", () => {
    const lines = calculators.flatMap((c) => {
      const answer = c.searches ? null : c.run(c.example);
      return answer && "working" in answer ? answer.working : [];
    });
    const typeset = lines.flatMap((line) => {
      const nodes = workingMath(line);
      return nodes ? [{ line, back: nodes.map(plainMath).join("") }] : [];
    });
    expect(typeset.length).toBeGreaterThan(40);
    for (const { line, back } of typeset) expect(back.replaceAll(" ", "")).toBe(line.replaceAll(" ", ""));
  });

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

describe("calculators within their schemas, whatever is put in", () => {
  const seen = (path: string, schema: z.core.JSONSchema.BaseSchema): fc.Arbitrary<unknown> => {
    if (schema.enum) return fc.constantFrom(...schema.enum);
    if (schema.const !== undefined) return fc.constant(schema.const);
    if (schema.anyOf)
      return fc.oneof(...schema.anyOf.map((s) => seen(path, s as z.core.JSONSchema.BaseSchema)));
    const least = (schema.minimum ?? schema.exclusiveMinimum ?? -1e6) as number;
    const most = (schema.maximum ?? schema.exclusiveMaximum ?? 1e6) as number;
    switch (schema.type) {
      case "object": {
        const properties = Object.entries(schema.properties ?? {}).map(
          ([name, own]) => [name, seen(`${path}.${name}`, own as z.core.JSONSchema.BaseSchema)] as const,
        );
        return fc.record(Object.fromEntries(properties), { requiredKeys: schema.required ?? [] });
      }
      case "array":
        return fc.array(seen(path, schema.items as z.core.JSONSchema.BaseSchema), {
          minLength: schema.minItems ?? 0,
          maxLength: Math.min(Math.max(6, schema.minItems ?? 0), schema.maxItems ?? Number.POSITIVE_INFINITY),
        });
      case "integer":
        return fc.integer({ min: Math.ceil(least), max: Math.floor(most) });
      case "number":
        return fc.oneof(
          fc.double({ min: least, max: most, noNaN: true, noDefaultInfinity: true }),
          fc.constantFrom(least, most, Math.min(most, Math.max(least, 0))),
        );
      case "boolean":
        return fc.boolean();
      case "string":
        return schema.format === "date-time"
          ? fc.constantFrom("2026-04-12T08:00:00Z", "2026-04-12T12:00:00Z", "2026-04-12T16:00:00Z")
          : fc.string({ maxLength: 20 });
      default:
        return fc.anything();
    }
  };
  // A search over forty tests is for the planner's own tests.
  const quick = calculators.filter((c) => !c.searches);
  it.each(quick.map((c) => [c.id, c] as const))(
    "%s answers by its own schema or refuses in words",
    (_id, calculator) => {
      const schema = z.toJSONSchema(calculator.inputSchema, { io: "input" }) as z.core.JSONSchema.BaseSchema;
      fc.assert(
        fc.property(seen("", schema), (inputs) => {
          const answer = calculator.run(inputs);
          if ("errors" in answer) {
            expect(answer.errors.length).toBeGreaterThan(0);
            for (const error of answer.errors) expect(error.message).toMatch(/\w+.*[.?]$/);
          } else {
            expect(calculator.outputSchema.safeParse(answer.outputs).error).toBeUndefined();
            expect(answer.working.join(" ")).not.toMatch(/NaN|Infinity|undefined/);
          }
        }),
        { numRuns: 200 },
      );
    },
  );

  it("refuse what used to give nonsense", () => {
    const nowhere = [0, 0, 0].map((ml) => ({ ml, ph: 4 }));
    expect(errorsOf("gran-alkalinity", { sample_ml: 100, normality: 0.02, points: nowhere })[0]?.path).toBe(
      "points",
    );
    const still = [7, 4].map((buffer_ph) => ({ buffer_ph, mv: 12, temperature_c: 20 }));
    expect(errorsOf("ph-calibration", { points: still })[0]?.message).toContain("does not change");
    expect(
      errorsOf("chloride-titration", { titrant_ml: 1, normality: 0.01, sample_ml: 1e-12 })[0]?.path,
    ).toBe("sample_ml");
    const down = {
      quantity: "oxygen",
      readings: [{ at: "2026-04-12T16:00:00Z", value: 1 }],
      last_good_at: "2026-04-12T08:00:00Z",
      check_at: "2026-04-12T16:00:00Z",
      check_true: 8,
      check_read: 9.7,
    };
    const answer = calculate("drift-correction", down);
    expect("warnings" in answer && answer.warnings.map((w) => w.code)).toContain("impossible");
  });
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
