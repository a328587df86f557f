import { z } from "zod";

const keySchema = z
  .object({ code: z.string(), parameter: z.string(), analyte: z.string(), by: z.string() })
  .transform(({ by, ...rest }) => ({ ...rest, instrument_id: by }));

/** Which control an address speaks of. */
export function chartKeyIn(url: URL) {
  const read = keySchema.safeParse(Object.fromEntries(url.searchParams));
  if (!read.success) throw new Response("No such chart", { status: 404 });
  return read.data;
}
