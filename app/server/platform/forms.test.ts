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
