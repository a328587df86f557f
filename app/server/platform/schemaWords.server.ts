import { z } from "zod";

/** What a value is to be, by what the schema expects. */
const kinds: Record<string, string> = {
  string: "Give a text.",
  number: "Give a number.",
  int: "Give a whole number.",
  boolean: "Give true or false.",
  array: "Give a list.",
  object: "Give its fields by their names.",
};

/**
 * What a schema says where it has no sentence of its own: one in the words of the bench, in place of the library's. Check value: a text of 81
 * characters where 80 fit: "Keep it under 81 characters."
 */
function schemaWords(issue: z.core.$ZodRawIssue): string {
  switch (issue.code) {
    case "too_big": {
      const most = Number(issue.maximum);
      if (issue.origin === "string")
        return `Keep it under ${issue.inclusive === false ? most : most + 1} characters.`;
      return issue.inclusive === false ? `Less than ${most}.` : `At most ${most}.`;
    }
    case "too_small": {
      const least = Number(issue.minimum);
      if (issue.origin === "string") return least <= 1 ? "Fill this in." : `At least ${least} characters.`;
      return issue.inclusive === false ? `More than ${least}.` : `At least ${least}.`;
    }
    case "invalid_type":
      return issue.input === undefined
        ? "This is missing."
        : (kinds[issue.expected] ?? "This does not fit here.");
    case "invalid_value":
      return `One of these: ${issue.values.map(String).join(", ")}.`;
    case "unrecognized_keys":
      return `Brintel does not know this: ${issue.keys.join(", ")}.`;
    case "not_multiple_of":
      return `A multiple of ${issue.divisor}.`;
    case "invalid_format":
      return "Write it in the form that is asked for here.";
    default:
      return "This does not fit here.";
  }
}

z.config({ localeError: schemaWords });
