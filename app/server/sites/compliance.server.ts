import type { Knex } from "knex";
import { speciesNamed } from "../../../core/methods/methodWords";
import { type LimitSet, meaningsOf } from "../../../core/rules/limitSets";
import type { ReadingRow } from "../results/readings.server";
import { foundBy } from "./meaning.server";

/** How a site kept one limit in the time looked at. */
export interface Compliance {
  set: string;
  analyte: string;
  words: string;
  measured: number;
  /** The water that was beyond, newest first: when it was taken, the first few. */
  beyond: { id: string; at: string; value: string }[];
  times: number;
  /** More was measured than was looked at. */
  more: boolean;
}

/** So many of the newest values of one quantity are held against its limits. */
const mostValues = 2000;
/** So many of the times it was beyond are named. */
const mostNamed = 5;

type Row = Pick<
  ReadingRow,
  | "id"
  | "parameter"
  | "analyte"
  | "unit"
  | "value"
  | "low"
  | "high"
  | "shown"
  | "measured_at"
  | "collected_at"
>;

/** How often each limit of the sets chosen was not kept since a moment, up to another where one is given: counts and dates. */
export async function complianceOf(
  db: Knex,
  siteId: string,
  sets: readonly LimitSet[],
  from: string,
  to?: string,
): Promise<Compliance[]> {
  const parameters = [...new Set(sets.flatMap((s) => s.limits.map((l) => l.parameter)))];
  const all: Compliance[] = [];
  for (const parameter of parameters) {
    const rows: Row[] = await db("readings")
      .where({ site_id: siteId, parameter, kind: "sample" })
      .where("measured_at", ">=", from)
      .modify((q) => {
        if (to) q.where("measured_at", "<=", to);
      })
      .whereNot({ verdict: "void" })
      .orderBy("measured_at", "desc")
      .limit(mostValues + 1)
      .select(
        "id",
        "parameter",
        "analyte",
        "unit",
        "value",
        "low",
        "high",
        "shown",
        "measured_at",
        "collected_at",
      );
    all.push(...heldAgainst(rows.slice(0, mostValues), sets, rows.length > mostValues));
  }
  return all.sort((a, b) => b.times - a.times || a.analyte.localeCompare(b.analyte));
}

function heldAgainst(rows: readonly Row[], sets: readonly LimitSet[], more: boolean): Compliance[] {
  const lines = new Map<string, Compliance>();
  for (const row of rows) {
    const found = foundBy(row);
    if (!found) continue;
    const quantity = { ...row, species: speciesNamed(row.parameter, row.analyte) };
    for (const set of sets) {
      const meanings = meaningsOf(quantity, found, [set]);
      if (meanings.length === 0) continue;
      const key = `${set.id} ${row.analyte}`;
      const line = lines.get(key) ?? {
        set: set.name,
        analyte: row.analyte,
        words: "",
        measured: 0,
        beyond: [],
        times: 0,
        more,
      };
      lines.set(key, line);
      line.measured++;
      const broken = meanings.find((m) => m.kept === false);
      if (!broken) continue;
      line.times++;
      line.words ||= broken.short;
      if (line.beyond.length < mostNamed) {
        const value = row.shown ?? String(row.value ?? "");
        line.beyond.push({
          id: row.id,
          at: row.collected_at ?? row.measured_at,
          value: `${value} ${row.unit}`,
        });
      }
    }
  }
  return [...lines.values()];
}
