import type { Knex } from "knex";
import { type CalibrationVerdict, type Verdict, worstVerdict } from "../../../core/judgement/finding";
import { type Forecast, forecastOf, lookedBack } from "../../../core/stock/forecast";
import { amountLeft, type Lot } from "../../../core/stock/lot";
import { addDays } from "../../../core/time/zone";
import { type BenchKind, workHref } from "../bench/benchWork.server";

interface WorkRow {
  id: string;
  title: string | null;
  kind: BenchKind;
  meter: string | null;
  at: string;
  amount: number | null;
}

export interface WorkWithLot {
  id: string;
  title: string;
  href: string;
  at: string;
  amount: number | null;
  /** The worst of what it gave; null where it gives no verdict. */
  verdict: Verdict | CalibrationVerdict | null;
}

/** The newest works that used a lot, with how they ended. */
export async function worksWithLot(db: Knex, id: string, limit: number): Promise<WorkWithLot[]> {
  const works: WorkRow[] = await db("lot_uses as u")
    .join("bench_work as w", "w.id", "u.work_id")
    .leftJoin("meters as m", "m.id", "w.meter_id")
    .where({ lot_id: id })
    .groupBy("w.id", "w.title", "w.kind", "m.code")
    .orderBy("at", "desc")
    .limit(limit)
    .select("w.id", "w.title", "w.kind", "m.code as meter")
    .max("u.at as at")
    .sum("u.amount as amount");
  const ids = works.map((w) => w.id);
  const given: { work_id: string; verdict: Verdict | CalibrationVerdict }[] = [
    ...(await db("calibrations").whereIn("work_id", ids).select("work_id", "verdict")),
    ...(await db("readings").whereIn("work_id", ids).select("work_id", "verdict")),
  ];
  return works.map(({ kind, meter, title, ...work }) => {
    const own = given.filter((g) => g.work_id === work.id).map((g) => g.verdict);
    return {
      ...work,
      title:
        title ??
        `${kind === "check" ? "Check of" : kind === "reading" ? "Reading with" : "Calibration of"} ${meter}`,
      href: workHref({ kind, id: work.id }),
      verdict: own.length ? worstVerdict(own) : null,
    };
  });
}

/** What was taken of lots in the time that forecasts look back to, and since when; those nobody used are not in it. */
export async function takenOfLate(
  db: Knex,
  ids: readonly string[],
  today: string,
): Promise<Map<string, { taken: number; since: string }>> {
  const counted: { lot_id: string; taken: number | null; since: string }[] = await db("lot_uses")
    .whereIn("lot_id", [...ids])
    .where("at", ">=", addDays(today, -lookedBack))
    .groupBy("lot_id")
    .select("lot_id")
    .sum("amount as taken")
    .min("at as since");
  return new Map(counted.map((c) => [c.lot_id, { taken: c.taken ?? 0, since: c.since.slice(0, 10) }]));
}

/** When lots run out, by how they were used of late; those of which nothing is known are not in it. */
export async function forecasts(
  db: Knex,
  lots: readonly { id: string; lot: Pick<Lot, "size">; used: number }[],
  today: string,
): Promise<Map<string, Forecast>> {
  const taken = await takenOfLate(
    db,
    lots.filter((l) => l.lot.size !== null).map((l) => l.id),
    today,
  );
  return new Map(
    lots.flatMap(({ id, lot, used }) => {
      const own = taken.get(id);
      const forecast = own && forecastOf({ left: amountLeft(lot, used), ...own }, today);
      return forecast ? [[id, forecast] as const] : [];
    }),
  );
}
