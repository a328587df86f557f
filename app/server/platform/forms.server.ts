import type { z } from "zod";

export type FieldErrors = Record<string, string>;

/** Field errors by dotted path, the first one of each. */
export function fieldErrors(error: z.ZodError): FieldErrors {
  const errors: FieldErrors = {};
  for (const issue of error.issues) errors[issue.path.join(".")] ??= issue.message;
  return errors;
}

/** A number typed into a plain form field; a comma is taken for a decimal point. NaN when it is none. */
export const numberField = (form: FormData, name: string): number => {
  const text = String(form.get(name) ?? "")
    .trim()
    .replace(",", ".");
  return text === "" ? Number.NaN : Number(text);
};

export const textField = (form: FormData, name: string): string => String(form.get(name) ?? "").trim();
