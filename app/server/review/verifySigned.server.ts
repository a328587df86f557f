import { createHash } from "node:crypto";
import type { Knex } from "knex";
import type { JournalRow } from "../platform/journal.server";
import { hashOfForm, hashOfSignature, signedForms, supersededForms } from "./signedForm.server";

/** Something that is not as it was written: what it is, and in words what does not fit. */
export interface Fault {
  what: "journal" | "signature" | "reading" | "note" | "amendment" | "document";
  id: string;
  sentence: string;
}

/** What the journal says was signed, noted and amended: the tables must say the same. */
export class ReviewInJournal {
  readonly signatures = new Map<string, string>();
  readonly notes: string[] = [];
  readonly amendments: string[] = [];

  /** Takes note of an entry of the chain that is about review. */
  readonly note = (row: JournalRow): void => {
    const after = row.after === null ? null : JSON.parse(row.after);
    const line = (...rest: unknown[]) => JSON.stringify([row.subject_id, row.at, row.person_id, ...rest]);
    if (row.action === "shift signed") {
      const { day, from_at, to_at, comment, readings, hash } = after;
      this.signatures.set(row.subject_id, line(day, from_at, to_at, comment, readings, hash));
    } else if (row.action === "reading looked at")
      this.notes.push(line(after.id, after.judgement, after.comment));
    else if (row.action === "reading amended") {
      const [[what, before] = []] = Object.entries(JSON.parse(row.before ?? "{}"));
      this.amendments.push(line(after.id, after.judgement, what, before, after[String(what)], row.reason));
    }
  };
}

/** Rows of a table that are about review, in the journal's words. */
async function linesOf(
  db: Knex,
  table: string,
  columns: readonly string[],
): Promise<{ id: string; line: string }[]> {
  const rows: Record<string, unknown>[] = await db(table).orderBy("id");
  return rows.map((r) => ({ id: String(r.id), line: JSON.stringify(columns.map((c) => r[c])) }));
}

/** Holds a table against what the journal says was written into it. */
function compare(
  what: Fault["what"],
  rows: readonly { id: string; line: string }[],
  said: readonly string[],
): Fault[] {
  const open = new Map<string, number>();
  for (const line of said) open.set(line, (open.get(line) ?? 0) + 1);
  const faults: Fault[] = [];
  for (const { id, line } of rows) {
    const left = open.get(line) ?? 0;
    if (left === 0) faults.push({ what, id, sentence: "It is not as the journal says it was written." });
    open.set(line, left - 1);
  }
  for (const [line, left] of open)
    for (let i = 0; i < left; i++)
      faults.push({
        what,
        id: String(JSON.parse(line)[0]),
        sentence: "The journal knows it, and it is gone.",
      });
  return faults;
}

const pageSize = 300;

/** Documents that readings and events point to bear the hash of their text. */
async function documentFaults(db: Knex): Promise<Fault[]> {
  const faults: Fault[] = [];
  for (let after = ""; ; ) {
    const rows: { key: string; document: string }[] = await db("documents")
      .where("key", ">", after)
      .orderBy("key")
      .limit(pageSize);
    const last = rows.at(-1);
    if (!last) return faults;
    for (const { key, document } of rows)
      if (createHash("sha256").update(document).digest("base64url") !== key)
        faults.push({ what: "document", id: key, sentence: "Its text is not the one it was kept under." });
    after = last.key;
  }
}

interface SignedRow {
  signature_id: string;
  reading_id: string;
  judgement: number;
  hash: string;
}

/** Readings of which something is otherwise than it was signed. */
async function readingFaults(
  db: Knex,
  onProgress: (signed: number) => void,
): Promise<{ faults: Fault[]; signed: number }> {
  const faults: Fault[] = [];
  let signed = 0;
  const fault = (id: string, sentence: string) => faults.push({ what: "reading", id, sentence });
  for (let after = ""; ; ) {
    const ids: string[] = (
      await db("signed_readings")
        .where("reading_id", ">", after)
        .groupBy("reading_id")
        .orderBy("reading_id")
        .limit(pageSize)
        .select("reading_id")
    ).map((r: { reading_id: string }) => r.reading_id);
    const last = ids.at(-1);
    if (!last) break;
    const rows: SignedRow[] = await db("signed_readings")
      .whereIn("reading_id", ids)
      .orderBy(["reading_id", "judgement"]);
    const present: {
      id: string;
      judgements: number;
      signed_judgement: number;
      named: string | null;
      sample_key: string;
      sample_id: string | null;
    }[] = await db("readings")
      .leftJoin("samples", "samples.id", "readings.sample_id")
      .whereIn("readings.id", ids)
      .select(
        "readings.id",
        "judgements",
        "signed_judgement",
        "samples.code_key as named",
        "sample_key",
        "sample_id",
      );
    const [now, before] = await Promise.all([signedForms(db, ids), supersededForms(db, ids)]);
    for (const id of ids) {
      const own = rows.filter((r) => r.reading_id === id);
      const reading = present.find((p) => p.id === id);
      signed += own.length;
      if (!reading) {
        fault(id, "It was signed, and it is gone.");
        continue;
      }
      if (Math.max(...own.map((r) => r.judgement)) !== reading.signed_judgement)
        fault(id, "It does not say up to which judgement it was signed.");
      if (reading.sample_id !== null && reading.named !== reading.sample_key)
        fault(id, "It points to a sample of another name.");
      for (const { judgement, hash } of own) {
        // What came after a signature kept the reading as it was signed; the newest is the reading itself.
        const form = judgement === reading.judgements ? now.get(id) : before.get(`${id} ${judgement}`);
        if (!form || hashOfForm(form) !== hash)
          fault(id, `It is not as it was signed (judgement ${judgement}).`);
      }
    }
    onProgress(signed);
    after = last;
  }
  const pretended: { id: string }[] = await db("readings")
    .whereNotNull("signed_judgement")
    .whereNotExists(db("signed_readings").whereRaw("signed_readings.reading_id = readings.id"))
    .select("id");
  for (const { id } of pretended) fault(id, "It says that it was signed, and no signature has it.");
  return { faults, signed };
}

/** Signatures that do not cover what they say they cover. */
async function signatureFaults(db: Knex, said: ReadonlyMap<string, string>): Promise<Fault[]> {
  const rows: Record<string, unknown>[] = await db("signatures").orderBy("id");
  const faults = compare(
    "signature",
    rows.map((r) => ({
      id: String(r.id),
      line: JSON.stringify(
        ["id", "at", "person_id", "day", "from_at", "to_at", "comment", "readings", "hash"].map((c) => r[c]),
      ),
    })),
    [...said.values()],
  );
  for (const { id, hash, readings } of rows) {
    const own: SignedRow[] = await db("signed_readings").where({ signature_id: id });
    if (own.length !== readings || hashOfSignature(own) !== hash)
      faults.push({
        what: "signature",
        id: String(id),
        sentence: "What it lists is not what was signed.",
      });
  }
  return faults;
}

/** Holds everything that was signed, noted and amended against the journal, whose entries were taken note of before. */
export async function verifySigned(
  db: Knex,
  said: ReviewInJournal,
  onProgress: (signed: number) => void = () => undefined,
): Promise<{ faults: Fault[]; signed: number }> {
  const { faults, signed } = await readingFaults(db, onProgress);
  return {
    signed,
    faults: [
      ...(await signatureFaults(db, said.signatures)),
      ...faults,
      ...compare(
        "note",
        await linesOf(db, "review_notes", ["reading_id", "at", "person_id", "id", "judgement", "comment"]),
        said.notes,
      ),
      ...compare(
        "amendment",
        await linesOf(db, "amendments", [
          "reading_id",
          "at",
          "person_id",
          "id",
          "judgement",
          "what",
          "before",
          "after",
          "reason",
        ]),
        said.amendments,
      ),
      ...(await documentFaults(db)),
    ],
  };
}
