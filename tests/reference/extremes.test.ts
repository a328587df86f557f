import { describe, expect, it } from "vitest";
import { z } from "zod";
import { calculators } from "../../core/calculators/registry";

interface Schema {
  type?: string;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  enum?: string[];
  items?: Schema;
  minItems?: number;
  maxItems?: number;
  properties?: Record<string, Schema>;
  required?: string[];
  anyOf?: Schema[];
}
type Values = Record<string, unknown>;

const schemaOf = (input: z.ZodType) => z.toJSONSchema(input, { io: "input" }) as Schema;

/** Everything that may stand in a field at its ends, and what must never be taken. */
function values(schema: Schema): unknown[] {
  if (schema.enum) return [...schema.enum, "lemonade", 7];
  if (schema.type === "number" || schema.type === "integer") {
    const ends = [schema.minimum, schema.exclusiveMinimum, schema.maximum].filter((v) => v !== undefined);
    return [...ends, 0, -1, 1e-12, 1e12, Number.NaN, Number.POSITIVE_INFINITY, "many", null, true, {}];
  }
  if (schema.type === "boolean") return [true, false, "yes"];
  if (schema.type === "array") {
    const rows = schema.items ? values(schema.items) : [];
    const one = rows[0];
    return [
      [],
      [one],
      rows,
      Array.from({ length: Math.min(60, (schema.maxItems ?? 40) + 1) }, () => one),
      "list",
    ];
  }
  if (schema.type === "object") {
    return Object.entries(schema.properties ?? {}).flatMap(([key, inner]) =>
      values(inner).map((value) => ({ [key]: value })),
    );
  }
  return ["", "x".repeat(500), "H2O", "(((", 4, null];
}

/** Where in an answer a number is none, or beyond everything. */
function wild(value: unknown, path = ""): string[] {
  if (typeof value === "number") return Number.isFinite(value) ? [] : [path];
  if (Array.isArray(value)) return value.flatMap((v, i) => wild(v, `${path}.${i}`));
  if (value && typeof value === "object")
    return Object.entries(value).flatMap(([k, v]) => wild(v, `${path}.${k}`));
  return [];
}

/** The example with one field after another at each of its ends, each field left out, and pairs of ends together. */
function trials({ properties = {} }: Schema, example: Values): Values[] {
  const single = Object.entries(properties).flatMap(([key, inner]) => [
    ...values(inner).map((value) => ({ ...example, [key]: value })),
    Object.fromEntries(Object.entries(example).filter(([k]) => k !== key)),
  ]);
  const ends = (schema: Schema) => [schema.minimum, schema.maximum].filter((v) => v !== undefined);
  const numbers = Object.entries(properties).filter(([, s]) => s.type === "number");
  const pairs = numbers.flatMap(([a, sa], i) =>
    numbers
      .slice(i + 1)
      .flatMap(([b, sb]) =>
        ends(sa).flatMap((va) => ends(sb).map((vb) => ({ ...example, [a]: va, [b]: vb }))),
      ),
  );
  return [{}, ...single, ...pairs];
}

describe.each(calculators.map((c) => [c.id, c] as const))(
  "%s, at the ends of what may be typed",
  (_id, c) => {
    it("answers in numbers that are some, or says in words what is wrong and where", () => {
      const all = trials(schemaOf(c.inputSchema), c.example);
      expect(all.length).toBeGreaterThan(5);
      for (const inputs of all) {
        const answer = c.run(inputs);
        const said = `${c.id} ${JSON.stringify(inputs).slice(0, 400)}`;
        if ("errors" in answer) {
          expect(answer.errors.length, said).toBeGreaterThan(0);
          for (const { message } of answer.errors) {
            expect(message, said).toMatch(/^[^\s].{5,}[.!?)]$/s);
            expect(message, said).not.toMatch(/NaN|undefined|Infinity|\[object/);
          }
          continue;
        }
        expect(wild(answer.outputs), said).toEqual([]);
        expect([...answer.working, ...answer.warnings.map((w) => w.message)].join("\n"), said).not.toMatch(
          /NaN|undefined|Infinity|\[object/,
        );
      }
    });
  },
);
