import type { Knex } from "knex";
import { collected, type Fill, fillOf, type WasteStream, wasteOfPortion } from "../../../core/stock/waste";
import { localDate } from "../../../core/time/local";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { findMethod } from "../runs/methods.server";

export interface Container {
  id: string;
  stream: WasteStream;
  code: string;
  size_ml: number;
  begun_at: string;
  closed_at: string | null;
  /** To whom it went. */
  given_to: string | null;
}

export interface Filled extends Container {
  fill: Fill;
  /** What is in it: by which method how many portions. */
  from: { method: string; portions: number; ml: number; hazards: string[] }[];
  /** Lots that were thrown into it, by their codes. */
  lots: string[];
}

/** What was done from a moment on, up to another where there is one: runs by method. */
async function doneSince(
  db: Knex,
  from: string,
  to: string | null,
): Promise<{ method_id: string; runs: number }[]> {
  const rows: { method_id: string; runs: number }[] = await db("bench_work")
    .where({ kind: "analysis", status: "finished" })
    .where("finished_at", ">=", from)
    .modify((q) => to && q.where("finished_at", "<", to))
    .groupBy("method_id")
    .select("method_id", db.raw("count(*) as runs"));
  return rows.map((r) => ({ ...r, runs: Number(r.runs) }));
}

/** Containers that are in use, and the last ones that were given away, with what is in each. */
export async function containers(db: Knex, now: string, zone: string): Promise<Filled[]> {
  const rows: Container[] = await db("waste_containers")
    .orderByRaw("case when closed_at is null then 0 else 1 end, begun_at desc")
    .limit(20)
    .select("id", "stream", "code", "size_ml", "begun_at", "closed_at", "given_to");
  const all: Filled[] = [];
  for (const one of rows) {
    const to = one.closed_at ?? now;
    const from: Filled["from"] = [];
    for (const { method_id, runs } of await doneSince(db, one.begun_at, one.closed_at)) {
      const method = (await findMethod(db, method_id))?.method;
      if (method?.waste !== one.stream) continue;
      const portions = runs * method.replicates;
      from.push({
        method: method.name,
        portions,
        ml: portions * wasteOfPortion(method),
        hazards: method.hazards,
      });
    }
    const ml = from.reduce((sum, f) => sum + f.ml, 0);
    const day = (at: string) => localDate(at, zone);
    all.push({
      ...one,
      fill: fillOf(one.size_ml, ml, day(one.begun_at), day(to)),
      from: from.sort((a, b) => b.ml - a.ml),
      lots: await thrownInto(db, one.stream, day(one.begun_at), day(to)),
    });
  }
  return all;
}

/** The lots that were thrown away into a stream on some days. */
async function thrownInto(db: Knex, stream: WasteStream, from: string, to: string): Promise<string[]> {
  const rows: { code: string; document: string }[] = await db("lots")
    .where("document", "like", `%"stream":"${stream}"%`)
    .select("code", "document");
  return rows.flatMap(({ code, document }) => {
    const { discarded } = JSON.parse(document);
    return discarded && discarded.stream === stream && discarded.on >= from && discarded.on <= to
      ? [code]
      : [];
  });
}

/** Begins a container of a stream; the one that was in use stays until it is given away. A sentence where it cannot be. */
export function beginContainer(
  db: Knex,
  { id, stream, code, size_ml }: Pick<Container, "id" | "stream" | "code" | "size_ml">,
  actor: Actor,
  now: string,
): Promise<string | null> {
  return write(db, actor, "stock", async (trx) => {
    if (!collected.includes(stream)) return "Nothing of this is collected.";
    if (await trx("waste_containers").where({ id }).first("id")) return null;
    const open: { code: string } | undefined = await trx("waste_containers")
      .where({ stream, closed_at: null })
      .first("code");
    if (open) return `${open.code} is in use for this: give it away first.`;
    if (await trx("waste_containers").where({ code }).first("id"))
      return "This code is taken. Write another on the container.";
    await trx("waste_containers").insert({ id, stream, code, size_ml, begun_at: now, person_id: actor.id });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "waste container begun",
        subject_kind: "waste container",
        subject_id: id,
        after: { stream, code, size_ml },
      },
    ]);
    return null;
  });
}

/** Gives a container away; a second click changes nothing. */
export function giveAway(db: Knex, id: string, to: string, actor: Actor, now: string): Promise<void> {
  return write(db, actor, "stock", async (trx) => {
    const changed = await trx("waste_containers")
      .where({ id, closed_at: null })
      .update({ closed_at: now, given_to: to });
    if (!changed) return;
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "waste container given away",
        subject_kind: "waste container",
        subject_id: id,
        after: { to },
      },
    ]);
  });
}
