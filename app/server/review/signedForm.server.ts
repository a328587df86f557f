import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { pack, unpack } from "../platform/pack.server";

/**
 * The columns of a reading that a signature covers, in their order. It is part of the format: a column that comes later is covered by
 * the next one. Which registered bottle bears the sample's name is not in it, since that may become known later; the name is.
 */
const columns = [
  "id",
  "work_id",
  "source",
  "kind",
  "subject_code",
  "instrument_id",
  "parameter",
  "analyte",
  "method",
  "site_id",
  "meter_id",
  "calibration_id",
  "sample",
  "sample_key",
  "value",
  "measured_value",
  "uncertainty",
  "pair_range",
  "shown",
  "low",
  "high",
  "decimals",
  "unit",
  "temperature_c",
  "verdict",
  "grade",
  "check_evidence",
  "findings",
  "rules_version",
  "limit_sets",
  "measured_at",
  "collected_at",
  "finished_at",
  "person_id",
] as const;

const judgementColumns = [
  "seq",
  "at",
  "value",
  "verdict",
  "findings",
  "rules_version",
  "cause",
  "rejudging_id",
];

/** A reading as a signature sees it: its row, what it rests on, and every judgement it had until then. */
export type SignedForm = [
  row: unknown[],
  evidence: [packed: string, calibration_key: string | null],
  judgements: unknown[][],
];

type Row = Record<string, unknown>;

/** The signed forms of readings as they are now, by their ids. A few hundred at a time. */
export async function signedForms(db: Knex, ids: readonly string[]): Promise<Map<string, SignedForm>> {
  const rows: Row[] = await db("readings")
    .join("reading_evidence", "reading_evidence.reading_id", "readings.id")
    .whereIn("readings.id", [...ids])
    .select("readings.*", "reading_evidence.packed", "reading_evidence.calibration_key");
  const judgements: Row[] = await db("reading_judgements")
    .whereIn("reading_id", [...ids])
    .orderBy("reading_id")
    .orderBy("seq");
  const history = new Map<string, unknown[][]>();
  for (const j of judgements) {
    const id = String(j.reading_id);
    history.set(id, [...(history.get(id) ?? []), judgementColumns.map((c) => j[c] ?? null)]);
  }
  return new Map(
    rows.map((row) => [
      String(row.id),
      [
        columns.map((c) => row[c] ?? null),
        [
          Buffer.from(row.packed as Uint8Array).toString("base64"),
          (row.calibration_key as string | null) ?? null,
        ],
        history.get(String(row.id)) ?? [],
      ],
    ]),
  );
}

/** The hash of a signed form. The number in front says of which format. */
export const hashOfForm = (form: SignedForm): string =>
  `1:${createHash("sha256").update(JSON.stringify(form)).digest("base64url")}`;

/** The hash of a signature: of what it signed, in the order of their ids. */
export const hashOfSignature = (
  signed: readonly { reading_id: string; judgement: number; hash: string }[],
): string =>
  createHash("sha256")
    .update(
      JSON.stringify(
        [...signed]
          .sort((a, b) => (a.reading_id < b.reading_id ? -1 : 1))
          .map((s) => [s.reading_id, s.judgement, s.hash]),
      ),
    )
    .digest("base64url");

/** Keeps readings as they were signed before something changes them, so that what was signed can still be shown and checked. */
export async function keepSigned(trx: Knex, ids: readonly string[]): Promise<void> {
  for (let from = 0; from < ids.length; from += 300) {
    const signed: { id: string; judgements: number }[] = await trx("readings")
      .whereIn("id", ids.slice(from, from + 300))
      .whereRaw("signed_judgement = judgements")
      .select("id", "judgements");
    if (signed.length === 0) continue;
    const forms = await signedForms(
      trx,
      signed.map((s) => s.id),
    );
    const rows = signed.map(({ id, judgements }) => ({
      reading_id: id,
      judgement: judgements,
      packed: pack(forms.get(id)),
    }));
    for (let at = 0; at < rows.length; at += 50) {
      await trx("superseded_readings")
        .insert(rows.slice(at, at + 50))
        .onConflict(["reading_id", "judgement"])
        .ignore();
    }
  }
}

/** Signed forms that something came after, by reading and judgement; one that cannot be read any more is not there. */
export async function supersededForms(db: Knex, ids: readonly string[]): Promise<Map<string, SignedForm>> {
  const rows: { reading_id: string; judgement: number; packed: Uint8Array }[] = await db(
    "superseded_readings",
  ).whereIn("reading_id", [...ids]);
  return new Map(
    rows.flatMap((r): [string, SignedForm][] => {
      try {
        return [[`${r.reading_id} ${r.judgement}`, unpack<SignedForm>(r.packed)]];
      } catch {
        return [];
      }
    }),
  );
}
