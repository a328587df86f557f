import type { Knex } from "knex";
import { kindWords } from "../../../core/bench/resultKinds";
import { counted } from "../../../core/quantity/format";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { DueEntry } from "../day/dueEntry";
import { openActions } from "./actions.server";
import { owedToday } from "./overview.server";
import { startHref } from "./startOfCheck";

const qualityEntry = (entry: Pick<DueEntry, "id" | "title" | "detail" | "href">, now: string): DueEntry => ({
  ...entry,
  kind: "quality",
  meter_id: null,
  measurands: [],
  moment: null,
  subject: null,
  at: now,
  when: "now",
});

/** Checks that are out and have no cause yet, and those that the batches of today are owed. */
export async function checksDue(db: Knex, rules: HouseRules, now: string): Promise<DueEntry[]> {
  const out = (await openActions(db)).map((a) =>
    qualityEntry(
      {
        id: `out-${a.id}`,
        title: `Find the cause: ${a.analyte}`,
        detail: `${kindWords[a.kind]} is out, its batch is held`,
        href: "/quality",
      },
      now,
    ),
  );
  const owed = (await owedToday(db, rules, now)).map((o) =>
    qualityEntry(
      {
        id: `owed-${o.kind}-${o.instrument_id}-${o.analyte}`,
        title: `${kindWords[o.kind]}: ${o.analyte}`,
        detail: `${o.instrument}: ${counted(o.samples, "sample")} today without one`,
        href: startHref(o.kind, o),
      },
      now,
    ),
  );
  return [...out, ...owed];
}
