import { z } from "zod";
import type { Method } from "../../../core/methods/method";
import { type EntryUnit, readValue } from "../../../core/quantity/entry";
import { dayCurve } from "../../../core/runs/techniques/dayCurve";
import { sampleFields } from "../../ui/sampleFields";

/** A number that was typed, or nothing; a sentence when it is neither. */
const optionalNumber = (low: number, high: number, what: string, unit: EntryUnit) =>
  z
    .string()
    .default("")
    .transform((text, issue) => {
      if (text.trim() === "") return null;
      const entry = readValue(text, unit);
      if ("value" in entry && entry.value >= low && entry.value <= high) return entry.value;
      const message = "message" in entry ? entry.message : `${what} lies between ${low} and ${high}.`;
      issue.addIssue({ code: "custom", message });
      return z.NEVER;
    });

/** Lines of two numbers each; nothing where the field is empty. */
const pairs = (fits: (rows: readonly (readonly [number, number])[]) => boolean, message: string) =>
  z
    .string()
    .default("")
    .transform((text, issue) => {
      const lines = text.split(/\n/).filter((line) => line.trim() !== "");
      if (lines.length === 0) return null;
      const numberIn = (text: string) => {
        const entry = readValue(text, "");
        return "value" in entry ? entry.value : Number.NaN;
      };
      const rows = lines.map((line) =>
        line
          .trim()
          .split(/[\s;=]+/)
          .map(numberIn),
      );
      const whole = rows.filter((r): r is [number, number] => r.length === 2 && r.every(Number.isFinite));
      if (whole.length === rows.length && fits(whole)) return whole;
      issue.addIssue({ code: "custom", message });
      return z.NEVER;
    });

const isRising = (values: readonly number[]) => values.every((v, i) => i === 0 || v > (values[i - 1] ?? 0));

/** The form that begins a run of a method. */
export const startFormSchema = (method: Method) =>
  z.object({
    ...sampleFields,
    temperature: optionalNumber(-5, 100, "The sample's temperature", "°C"),
    dilution: optionalNumber(1, 10_000, "A dilution factor", ""),
    dilutes: z.string().default(""),
    strength: optionalNumber(1e-6, 1000, "The strength of the titrant", ""),
    blank: optionalNumber(0, 100, "The blank", "mL"),
    table: pairs(
      (rows) =>
        rows.length >= 2 &&
        isRising(rows.map(([division]) => division)) &&
        isRising(rows.map(([, value]) => value)) &&
        rows.every(([, value]) => value >= 0),
      "Write the table as lines of division and mg/L, both rising, like 1.0 28.",
    ).transform((rows) => rows?.map(([division, value]) => ({ division, value })) ?? null),
    curve: pairs(
      (rows) => rows.length >= 3 && rows.length <= 20 && rows.every(([c]) => c >= 0),
      "Write three standards or more, a line each: concentration and display, like 0.5 0.104.",
    )
      .transform((rows) => rows?.map(([concentration, signal]) => ({ concentration, signal })) ?? null)
      .superRefine((standards, issue) => {
        const { measure } = method;
        if (!standards || measure.technique !== "photometer-curve") return;
        const fitted = dayCurve(standards, measure.signal);
        if (!fitted.ok) issue.addIssue({ code: "custom", message: fitted.error.message });
      }),
  });
