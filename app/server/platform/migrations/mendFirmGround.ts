import type { Knex } from "knex";

/**
 * Runs the second migration's `up` over the lots of a first-release database. Its released text takes the smaller of two dates as
 * numbers, which dates as text are not, and so could not be completed where a lot was registered. A released migration is
 * not rewritten: the dates stand as numbers while it runs, and what it makes of them is written as dates afterwards.
 */
export const withDatesAsNumbers =
  (up: (db: Knex) => Promise<void>) =>
  async (db: Knex): Promise<void> => {
    const lots: { id: string; document: string }[] = await db("lots").select("id", "document");
    for (const { id, document } of lots) {
      const lot = JSON.parse(document);
      // Without a day of opening the printed date alone is compared, with itself.
      const plain = { ...lot, opened_on: null, expires_on: Number(lot.expires_on.replaceAll("-", "")) };
      await db("lots")
        .where({ id })
        .update({ document: JSON.stringify(plain) });
    }
    await up(db);
    for (const { id, document } of lots)
      await db("lots")
        .where({ id })
        .update({ document, good_until: goodUntil(JSON.parse(document)) });
  };

const day_ms = 86_400_000;

/** The last day of a lot of the first release: its printed date, or its days after opening where they end before. */
function goodUntil(lot: {
  opened_on: string | null;
  shelf_life_open_days: number;
  expires_on: string;
}): string {
  if (!lot.opened_on) return lot.expires_on;
  const open = new Date(Date.parse(lot.opened_on) + lot.shelf_life_open_days * day_ms);
  return [open.toISOString().slice(0, 10), lot.expires_on].sort()[0] ?? lot.expires_on;
}
