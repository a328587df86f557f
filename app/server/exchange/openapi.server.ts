import { z } from "zod";
import { createDocument, type ZodOpenApiPathsObject } from "zod-openapi";
import { calculators } from "../../../core/calculators/registry";
import { programVersion } from "../platform/version.server";
import {
  dueSchema,
  lotSchema,
  meterSchema,
  readingsPageSchema,
  readingsQuerySchema,
  siteSchema,
  wholeReadingSchema,
} from "./api.server";

const messageSchema = z
  .object({ message: z.string().meta({ description: "What was wrong, in a sentence." }) })
  .meta({ id: "Message" });
const badInputSchema = z
  .object({
    id: z.string(),
    errors: z.array(z.object({ path: z.string(), message: z.string() })),
  })
  .meta({ id: "BadInput" });

const json = (description: string, schema: z.ZodType) => ({
  description,
  content: { "application/json": { schema } },
});
const unsigned = json("No key, or one that holds no more.", messageSchema);

const reading = (summary: string, schema: z.ZodType) => ({
  get: { summary, tags: ["records"], responses: { "200": json(summary, schema), "401": unsigned } },
});

const recordPaths: ZodOpenApiPathsObject = {
  "/api/v1/readings": {
    get: {
      summary: "Readings, a page at a time",
      tags: ["records"],
      requestParams: { query: readingsQuerySchema },
      responses: {
        "200": json("A page of readings.", readingsPageSchema),
        "400": json("Something asked for is not understood.", messageSchema),
        "401": unsigned,
      },
    },
  },
  "/api/v1/readings/{readingId}": {
    get: {
      summary: "One reading, with every judgement it had",
      tags: ["records"],
      requestParams: { path: z.object({ readingId: z.string() }) },
      responses: {
        "200": json("The reading.", wholeReadingSchema),
        "401": unsigned,
        "404": json("There is none of this id.", messageSchema),
      },
    },
  },
  "/api/v1/sites": reading("Where water is taken", z.array(siteSchema)),
  "/api/v1/meters": reading("Meters, with the last calibration of each quantity", z.array(meterSchema)),
  "/api/v1/lots": reading("What stands on the shelf", z.array(lotSchema)),
  "/api/v1/due": reading("What is due", z.array(dueSchema)),
};

/** A calculator asks for no key and keeps nothing. */
const calculatorPaths = (): ZodOpenApiPathsObject =>
  Object.fromEntries(
    calculators.map(({ id, title, purpose, sources, example, inputSchema, outputSchema }) => [
      `/api/calculators/${id}`,
      {
        post: {
          summary: title,
          description: `${purpose}\n\nSources: ${sources.join("; ")}`,
          tags: ["calculators"],
          security: [],
          requestBody: { content: { "application/json": { schema: inputSchema, example } } },
          responses: {
            "200": json(
              "What it comes to, with its working.",
              z.object({
                id: z.literal(id),
                outputs: outputSchema,
                working: z.array(z.string()),
                warnings: z.array(z.unknown()),
                sources: z.array(z.string()),
              }),
            ),
            "422": json("An input is wrong; each error names its field.", badInputSchema),
          },
        },
      },
    ]),
  );

let made: ReturnType<typeof createDocument> | undefined;

/** The description of everything that other programs may ask, by OpenAPI 3.1. Made once: it is the same for everybody. */
export function openApi(): ReturnType<typeof createDocument> {
  made ??= createDocument({
    openapi: "3.1.1",
    info: {
      title: "Brintel",
      version: programVersion,
      description:
        "Calculators answer anybody and keep nothing. Records are read with a key, which whoever manages makes on the page Keys for programs; nothing is written.",
    },
    security: [{ key: [] }],
    components: { securitySchemes: { key: { type: "http", scheme: "bearer" } } },
    tags: [
      { name: "records", description: "What was measured, with what, and what is due." },
      { name: "calculators", description: "The reckoning behind the pages." },
    ],
    paths: { ...recordPaths, ...calculatorPaths() },
  });
  return made;
}
