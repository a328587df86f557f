import "./schemaWords.server";
import { ZodError, type z } from "zod";
import { type EntryUnit, readValue } from "../../../core/quantity/entry";
import { dateSchema } from "../../../core/time/date";

export type FieldErrors = Record<string, string>;

/** Field errors by dotted path, the first one of each. */
export function fieldErrors(error: z.ZodError): FieldErrors {
  const errors: FieldErrors = {};
  for (const issue of error.issues) errors[issue.path.join(".")] ??= issue.message;
  return errors;
}

/** The reason of a form; a sentence for its field where there is none, or it is too long. */
export function reasonOf(form: FormData, missing: string): { reason: string } | { message: string } {
  const reason = textField(form, "reason");
  if (!reason) return { message: missing };
  return reason.length > 200 ? { message: "Keep the reason under 201 characters." } : { reason };
}

export const textField = (form: FormData, name: string): string => String(form.get(name) ?? "").trim();

/**
 * Reads the numbers of a form by the one reader: what cannot be understood keeps its sentence, which then stands at its
 * field instead of what the schema would say of a missing number.
 */
export class NumberFields {
  private readonly problems = new Map<string, string>();
  constructor(private readonly form: FormData) {}

  /** The number of a field in its unit; NaN when there is none. `path` is its place in the schema where that differs. */
  read(name: string, unit: EntryUnit, path = name): number {
    const text = textField(this.form, name);
    if (text === "") return Number.NaN;
    const entry = readValue(text, unit);
    if ("value" in entry) return entry.value;
    this.problems.set(path, entry.message);
    return Number.NaN;
  }

  /** As {@link read}; null for an empty field. */
  readOptional(name: string, unit: EntryUnit, path = name): number | null {
    return textField(this.form, name) === "" ? null : this.read(name, unit, path);
  }

  /** Validates what was read; sentences of fields that could not be read come first. */
  parse<T extends z.ZodType>(schema: T, input: unknown): z.ZodSafeParseResult<z.output<T>> {
    const parsed = schema.safeParse(input);
    if (this.problems.size === 0) return parsed;
    const own = [...this.problems].map(([path, message]) => ({
      code: "custom" as const,
      path: path.split("."),
      message,
      input: undefined,
    }));
    const others = (parsed.error?.issues ?? []).filter((i) => !this.problems.has(i.path.join(".")));
    return { success: false, error: new ZodError([...own, ...others]) as z.ZodError<z.output<T>> };
  }
}

/** A day of an address or a form; null where it is none. */
export const readDate = (text: string | null): string | null => {
  const read = dateSchema.safeParse(text);
  return read.success ? read.data : null;
};
