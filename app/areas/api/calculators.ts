import { z } from "zod";
import { calculators } from "../../../core/calculators/registry";

/** Every calculator with the JSON Schemas of its inputs and outputs. */
export function loader() {
  return Response.json(
    calculators.map(({ id, title, purpose, sources, inputSchema, outputSchema }) => ({
      id,
      title,
      purpose,
      sources,
      input: z.toJSONSchema(inputSchema, { io: "input" }),
      output: z.toJSONSchema(outputSchema),
    })),
  );
}
