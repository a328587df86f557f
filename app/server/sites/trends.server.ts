import type { Knex } from "knex";
import { joinChosen } from "../platform/engine.server";

/** The values of one quantity of one site in time, oldest first: moments in ms, and values. */
export interface SmallTrend {
  site_id: string;
  parameter: string;
  analyte: string;
  points: [at: number, value: number][];
}

/** More are no clearer in a line as small as this. */
const mostPoints = 24;

/**
 * The newest values of every quantity of every site since a moment, to be drawn as small lines: one seek into the index for
 * each quantity, however long the history is.
 */
export async function smallTrends(
  db: Knex,
  since: string,
  only: Partial<Pick<SmallTrend, "site_id" | "parameter" | "analyte">> = {},
): Promise<SmallTrend[]> {
  const rows: { site_id: string; parameter: string; analyte: string; measured_at: string; value: number }[] =
    await db("latest_readings as l")
      .joinRaw(
        joinChosen(
          db,
          "readings",
          "r",
          `select n.id from readings n
           where n.site_id = l.site_id and n.parameter = l.parameter and n.analyte = l.analyte
             and n.measured_at >= ? and n.value is not null and n.verdict <> 'void' and n.kind = 'sample'
           order by n.measured_at desc limit ${mostPoints}`,
        ),
        [since],
      )
      .modify((q) => {
        for (const [column, value] of Object.entries(only)) q.where(`l.${column}`, value);
      })
      .orderBy(["l.site_id", "l.parameter", "l.analyte", "r.measured_at"])
      .select("l.site_id", "l.parameter", "l.analyte", "r.measured_at", "r.value");
  const trends: SmallTrend[] = [];
  for (const { measured_at, value, ...of } of rows) {
    const last = trends.at(-1);
    const same =
      last && last.site_id === of.site_id && last.parameter === of.parameter && last.analyte === of.analyte;
    const trend = same ? last : { ...of, points: [] };
    if (!same) trends.push(trend);
    trend.points.push([Date.parse(measured_at), value]);
  }
  return trends;
}
