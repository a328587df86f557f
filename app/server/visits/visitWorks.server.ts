import type { Knex } from "knex";
import { z } from "zod";
import { type Measurand, measurands } from "../../../core/quantity/measurand";
import type { VisitWork } from "../../../core/samples/visitTodo";
import { rawEvents } from "../bench/eventStore.server";

const measuredSchema = z.object({ measurands: z.array(z.enum(measurands)) });

/** The bench work that was begun from a visit, and what each measures. */
export async function worksOfVisit(db: Knex, visitId: string): Promise<VisitWork[]> {
  const rows: Pick<VisitWork, "id" | "kind" | "method_id" | "status">[] = await db("bench_work")
    .where({ visit_id: visitId })
    .orderBy("started_at")
    .select("id", "kind", "method_id", "status");
  const events = await rawEvents(
    db,
    rows.flatMap((r) => (r.kind === "reading" ? [r.id] : [])),
  );
  return rows.map((row) => {
    const read = measuredSchema.safeParse((events.get(row.id) ?? [])[0]);
    const measured: Measurand[] = read.success ? read.data.measurands : [];
    return { ...row, measurands: measured };
  });
}
