import { z } from "zod";

export interface Warning {
  code: string;
  message: string;
}

/** What a calculator found out, before it is dressed as an answer. */
interface Computed<O> {
  outputs: O;
  /** The formula, then the numbers put into it, then the result: rounded, with units. */
  working: string[];
  warnings?: Warning[];
}

/** A refusal that only the computation can find, at the input it concerns. */
interface InputProblem {
  path: string;
  message: string;
}

export interface CalculatorDefinition<I extends z.ZodType, O extends z.ZodType> {
  id: string;
  title: string;
  /** One sentence: when a technician reaches for it. */
  purpose: string;
  input: I;
  output: O;
  sources: string[];
  /** Inputs that work, shown as the example on the page and used by tests. */
  example: z.input<I>;
  /** It searches, and may take seconds: run apart from what must go on answering. */
  searches?: boolean;
  compute(input: z.output<I>): Computed<z.output<O>> | { problems: InputProblem[] };
}

export interface Answer {
  id: string;
  outputs: Record<string, unknown>;
  working: string[];
  warnings: Warning[];
  sources: string[];
}
export interface BadInput {
  id: string;
  errors: InputProblem[];
}

export interface Calculator {
  id: string;
  title: string;
  purpose: string;
  sources: string[];
  example: Record<string, unknown>;
  inputSchema: z.ZodType;
  outputSchema: z.ZodType;
  searches: boolean;
  run(inputs: unknown): Answer | BadInput;
}

/**
 * Turns a definition into a calculator that validates its inputs and answers in one shape for the page,
 * the HTTP interface and the command line.
 */
export function defineCalculator<I extends z.ZodType, O extends z.ZodType>(
  definition: CalculatorDefinition<I, O>,
): Calculator {
  const { id, title, purpose, sources, input, output } = definition;
  return {
    id,
    title,
    purpose,
    sources,
    example: definition.example as Record<string, unknown>,
    inputSchema: input,
    outputSchema: output,
    searches: definition.searches ?? false,
    run(inputs) {
      const parsed = input.safeParse(inputs, { error: sentenceFor });
      if (!parsed.success) {
        return {
          id,
          errors: parsed.error.issues.map((issue) => ({
            path: issue.path.join("."),
            message: issue.message,
          })),
        };
      }
      const computed = definition.compute(parsed.data);
      if ("problems" in computed) return { id, errors: computed.problems };
      // What is no number, or outside of what can be, is no answer: better none than a wrong one.
      const checked = output.safeParse(computed.outputs);
      if (!checked.success) {
        const [path = ""] = Object.keys((inputs ?? {}) as object);
        const message = "No sensible result follows from these values together. Look at each of them again.";
        return { id, errors: [{ path, message }] };
      }
      return {
        id,
        outputs: computed.outputs as Record<string, unknown>,
        working: computed.working,
        warnings: computed.warnings ?? [],
        sources,
      };
    },
  };
}

/** Plain sentences for what the schemas find wrong when they say nothing of their own. */
const sentenceFor: z.core.$ZodErrorMap = (issue) => {
  const name = String(issue.path?.at(-1) ?? "the inputs");
  switch (issue.code) {
    case "invalid_type":
      return issue.input === undefined ? `Give ${name}.` : `${name} must be a ${issue.expected}.`;
    case "too_small":
      return issue.origin === "array"
        ? `Give at least ${issue.minimum} of ${name}.`
        : `${name} must be ${issue.inclusive ? "at least" : "more than"} ${issue.minimum}.`;
    case "too_big":
      return `${name} must be ${issue.inclusive ? "at most" : "less than"} ${issue.maximum}.`;
    case "invalid_value":
      return `${name} must be one of: ${issue.values.join(", ")}.`;
    default:
      return undefined;
  }
};

/** A finite number with a unit and a sensible range, described for forms and published schemas. */
export const measured = (label: string, unit: string, low: number, high: number) =>
  z.number().min(low).max(high).meta({ title: label, unit });
