import { describe, expect, it } from "vitest";
import { z } from "zod";
import { fieldErrors, NumberFields } from "./forms.server";

const form = (fields: Record<string, string>) => {
  const data = new FormData();
  for (const [name, value] of Object.entries(fields)) data.set(name, value);
  return data;
};

describe("numbers of a form", () => {
  const schema = z.object({ a: z.number(), b: z.number({ error: "Give b." }), c: z.number().nullable() });
  const read = (fields: Record<string, string>) => {
    const numbers = new NumberFields(form(fields));
    const input = {
      a: numbers.read("a", "°C"),
      b: numbers.read("b", "µS/cm"),
      c: numbers.readOptional("c", ""),
    };
    const parsed = numbers.parse(schema, input);
    return parsed.success ? parsed.data : fieldErrors(parsed.error);
  };
  it("are read by the one reader: decimal commas, units converted, an empty one left out", () => {
    expect(read({ a: " 7,4 ", b: "1.32 mS", c: "" })).toEqual({ a: 7.4, b: 1320, c: null });
    expect(read({ a: "20 °C", b: "1320", c: "−2" })).toEqual({ a: 20, b: 1320, c: -2 });
  });
  it("are asked about or refused in words, at their field", () => {
    expect(read({ a: "5", b: "1,320", c: "" })).toEqual({
      b: "1,320 can be read two ways. Is it 1320 or 1.320?",
    });
    expect(read({ a: "5 %", b: "", c: "3 mL" })).toEqual({
      a: "“%” does not fit here. This entry is in °C.",
      b: "Give b.",
      c: "This is a plain number, without “mL”.",
    });
  });
});

describe("a schema without a sentence of its own", () => {
  const schema = z.object({
    name: z.string().min(1).max(80),
    count: z.number().min(2),
    share: z.number().lt(1),
    kind: z.enum(["pond", "well"]),
    list: z.array(z.number()).max(2),
    more: z.strictObject({ at: z.iso.date() }),
  });
  const said = (given: unknown) => {
    const read = schema.safeParse(given);
    return read.success ? {} : fieldErrors(read.error);
  };
  it("says what it asks for in the words of the bench", () => {
    const fits = { name: "Leat", count: 2, share: 0.5, kind: "pond", list: [], more: { at: "2026-04-12" } };
    expect(said(fits)).toEqual({});
    expect(said({ ...fits, name: "x".repeat(81), count: 1, share: 1, kind: "sea", list: [1, 2, 3] })).toEqual(
      {
        name: "Keep it under 81 characters.",
        count: "At least 2.",
        share: "Less than 1.",
        kind: "One of these: pond, well.",
        list: "At most 2.",
      },
    );
    expect(
      said({ ...fits, name: "", count: "2", list: [true], more: { at: "12 April", by: "Noor" } }),
    ).toEqual({
      name: "Fill this in.",
      count: "Give a number.",
      "list.0": "Give a number.",
      "more.at": "Write it in the form that is asked for here.",
      more: "Brintel does not know this: by.",
    });
    expect(said({ ...fits, kind: undefined, more: 3, share: Number.NaN })).toEqual({
      kind: "One of these: pond, well.",
      more: "Give its fields by their names.",
      share: "Give a number.",
    });
  });
});
