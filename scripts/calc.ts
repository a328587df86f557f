/** Command line of the calculators: one answer for `calc -- <id> '<json>'`, or one a line from standard input. */
import { createInterface } from "node:readline";
import { z } from "zod";
import type { Answer, BadInput } from "../core/calculators/define";
import { calculate } from "../core/calculators/registry";

const lineSchema = z.object({
  id: z.string({ error: "Give the calculator's id as text." }),
  inputs: z.unknown(),
});

function parseJson(text: string): { value: unknown } | { message: string } {
  try {
    return { value: JSON.parse(text) };
  } catch (error) {
    return { message: `This is not JSON: ${(error as Error).message}` };
  }
}

function answerOne(id: string, text: string): Answer | BadInput {
  const json = parseJson(text);
  return "value" in json ? calculate(id, json.value) : { id, errors: [{ path: "", message: json.message }] };
}

function answerLine(text: string): Answer | BadInput {
  const json = parseJson(text);
  if (!("value" in json)) return { id: "", errors: [{ path: "", message: json.message }] };
  const line = lineSchema.safeParse(json.value);
  if (!line.success) {
    const errors = line.error.issues.map((i) => ({ path: i.path.join("."), message: i.message }));
    return { id: "", errors };
  }
  return calculate(line.data.id, line.data.inputs ?? {});
}

const [id, inputs] = process.argv.slice(2);
if (id) {
  const answer = answerOne(id, inputs ?? "{}");
  process.stdout.write(`${JSON.stringify(answer)}\n`);
  if ("errors" in answer) process.exitCode = 2;
} else {
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Number.POSITIVE_INFINITY })) {
    if (line.trim() === "") continue;
    process.stdout.write(`${JSON.stringify(answerLine(line))}\n`);
  }
}
