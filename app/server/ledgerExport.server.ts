import type { Knex } from "knex";
import { dayBounds } from "./day.server";
import { ledgerAll, ledgerQuerySchema, type Reading } from "./readings.server";
import { rulesInForce } from "./rules.server";

/** Every reading that the filter in an address finds, in its order. */
export async function filteredReadings(db: Knex, url: URL): Promise<Reading[]> {
  const query = ledgerQuerySchema.parse(
    Object.fromEntries([...url.searchParams].filter(([, v]) => v !== "")),
  );
  return ledgerAll(db, query, dayBounds((await rulesInForce(db)).rules.zone));
}

export const download = (body: string, type: string, name: string): Response =>
  new Response(body, {
    headers: {
      "Content-Type": `${type}; charset=utf-8`,
      "Content-Disposition": `attachment; filename="${name}"`,
    },
  });
