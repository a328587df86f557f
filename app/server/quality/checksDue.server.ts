import type { Knex } from "knex";
import { kindWords } from "../../../core/bench/resultKinds";
import { counted } from "../../../core/quantity/format";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { DueEntry } from "../day/dueEntry";
import { openCauses } from "./actions.server";
import { owedToday } from "./overview.server";
import { startHref } from "./startOfCheck";

const qualityEntry = (
  entry: Pick<DueEntry, "id" | "kind" | "title" | "detail" | "href" | "subject">,
  now: string,
): DueEntry => ({
  ...entry,
  meter_id: null,
  measurands: [],
  moment: null,
  at: now,
  when: "now",
});

/** Checks that are out and have no cause yet, and those that the batches of today are owed. */
export async function checksDue(db: Knex, rules: HouseRules, now: string): Promise<DueEntry[]> {
  const out = (await openCauses(db)).map((a) =>
    qualityEntry(
      {
        id: `out-${a.id}`,
        kind: "cause",
        subject: a.analyte,
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
        kind: "quality",
        subject: null,
        title: `${kindWords[o.kind]}: ${o.analyte}`,
        detail: `${o.instrument}: ${counted(o.samples, "sample")} today without one`,
        href: startHref(o.kind, o),
      },
      now,
    ),
  );
  return [...out, ...owed];
}
