import type { Knex } from "knex";
import { type Agreement, agreementOf, positionOf } from "../../../core/quality/observers";
import type { RunState } from "../../../core/runs/runState";

/** Writes how two observers saw the colours of a run; what was written before is replaced, so that it may be projected again. */
export async function writeLooks(
  trx: Knex,
  work_id: string,
  { replicates, method }: RunState,
): Promise<void> {
  await trx("second_looks").where({ work_id }).delete();
  const rows = replicates.flatMap(({ reads }, replicate) =>
    Object.entries(reads).flatMap(([step, { raw, second, by }]) =>
      second && raw.kind === "colour" && second.raw.kind === "colour" && raw.scale === second.raw.scale
        ? [
            {
              work_id,
              replicate,
              step,
              at: second.at,
              method_id: method.id,
              first_id: by,
              observer: second.observer,
              difference: positionOf(second.raw) - positionOf(raw),
            },
          ]
        : [],
    ),
  );
  if (rows.length) await trx("second_looks").insert(rows);
}

/** How one observer sees what another saw, by one method. */
export interface ObserverLine extends Agreement {
  first: string;
  observer: string;
}

/** How observers agreed of late, those that looked most often together first. */
export async function observersLately(db: Knex, since: string): Promise<ObserverLine[]> {
  const rows: { first: string; observer: string; difference: number }[] = await db("second_looks")
    .join("people", "people.id", "second_looks.first_id")
    .where("second_looks.at", ">=", since)
    .select("people.name as first", "observer", "difference");
  const pairs = new Map<string, typeof rows>();
  for (const row of rows) {
    const key = `${row.first}\n${row.observer.toLowerCase()}`;
    const own = pairs.get(key);
    if (own) own.push(row);
    else pairs.set(key, [row]);
  }
  return [...pairs.values()]
    .flatMap((own): ObserverLine[] =>
      own[0]
        ? [{ first: own[0].first, observer: own[0].observer, ...agreementOf(own.map((r) => r.difference)) }]
        : [],
    )
    .sort((a, b) => b.n - a.n);
}
