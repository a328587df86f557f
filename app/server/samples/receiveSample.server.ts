import type { Knex } from "knex";
import { z } from "zod";
import { readingVerdict } from "../../../core/judgement/finding";
import { arrivalFindings } from "../../../core/samples/arrival";
import { keepsUntil } from "../../../core/samples/bottleTypes";
import { coolerRange_c } from "../../../core/samples/custodyEvents";
import { NumberFields, textField } from "../platform/forms.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { listMethods } from "../runs/methods.server";
import { findSite } from "../sites/sites.server";
import { findBottleType } from "./bottleTypes.server";
import { readSampleDocument, refreshWaiting, sampleCalled, type WantedOfSample } from "./samples.server";
import { settleNames } from "./settleNames.server";

const receivedSchema = z.object({
  id: z.ulid(),
  code: z
    .string()
    .trim()
    .min(1, { error: "Give the code on the bottle." })
    .max(40, { error: "Keep the code under 41 characters." }),
  site: z.string().min(1, { error: "Choose where the water is from." }),
  type: z.string().min(1, { error: "Choose what bottle it is." }),
  collected_at: z.iso.datetime({ error: "Say when the water was taken: how long it keeps runs from then." }),
  from: z
    .string()
    .trim()
    .min(1, { error: "Say who brought it." })
    .max(80, { error: "Keep the name under 81 characters." }),
  temperature_c: z
    .number({ error: "Give the temperature in °C, like 4.5." })
    .min(coolerRange_c[0], { error: "No cooler is that cold." })
    .max(coolerRange_c[1], { error: "No cooler is that warm." })
    .nullable(),
  note: z.string().max(400, { error: "Keep the note under 401 characters." }),
  methods: z.array(z.string().max(60)).max(40, { error: "Forty tests are what one sample holds." }),
});
type Received = z.output<typeof receivedSchema>;

/** Reads a sample that is received from its form. */
export function receivedFromForm(form: FormData) {
  const numbers = new NumberFields(form);
  return numbers.parse(receivedSchema, {
    id: textField(form, "id"),
    code: textField(form, "code"),
    site: textField(form, "site"),
    type: textField(form, "type"),
    collected_at: textField(form, "collected"),
    from: textField(form, "from"),
    temperature_c: numbers.readOptional("temperature_c", "°C"),
    note: textField(form, "note"),
    methods: form.getAll("methods").map(String).filter(Boolean),
  });
}

/**
 * Registers a sample that somebody brought, without a visit. The same id again is the same sample, so a double click receives one.
 * Errors: sentences by field, where its code is taken, or its site or bottle is gone.
 */
export function receiveSample(
  db: Knex,
  received: Received,
  actor: Actor,
  now: string,
): Promise<Record<string, string> | null> {
  return write(db, actor, "measure", async (trx): Promise<Record<string, string> | null> => {
    if (await trx("samples").where({ id: received.id }).first("id")) return null;
    const [site, type] = [
      await findSite(trx, received.site),
      (await findBottleType(trx, received.type))?.type,
    ];
    if (!site) return { site: "This site is gone. Choose another." };
    if (!type) return { type: "This bottle is not known any more. Choose another." };
    if (await sampleCalled(trx, received.code))
      return { code: "Another sample bears this code. Look at the bottle again, or add a letter." };
    if (received.collected_at > now)
      return { collected: "Water cannot be taken in the future. Look at the time again." };
    const findings = arrivalFindings(received.temperature_c, type.arrives_c);
    const methods = (await listMethods(trx)).map(({ method }) => method);
    const wanted = received.methods.flatMap((id): WantedOfSample[] => {
      const method = methods.find((m) => m.id === id);
      return method ? [{ method: id, name: method.name, parameter: method.result.parameter }] : [];
    });
    const { id, code, collected_at, from, temperature_c, note } = received;
    const row = {
      id,
      code,
      code_key: code.toLowerCase(),
      visit_id: null,
      site_id: site.id,
      person_id: actor.id,
      type_id: type.id,
      type_name: type.name,
      collected_at,
      keeps_until: keepsUntil(type, collected_at),
      status: "kept",
      verdict: readingVerdict(findings),
      findings: JSON.stringify(findings),
      wanted: JSON.stringify(wanted),
      waits_until: null,
      document: JSON.stringify({ type, received: { at: now, from, temperature_c, note } }),
    };
    await trx("samples").insert(row);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "sample received",
        subject_kind: "sample",
        subject_id: id,
        after: { code, site: site.name, type: type.id, collected_at, from, temperature_c },
      },
    ]);
    await settleNames(trx, row, { by: actor.id, now });
    await refreshWaiting(trx, id);
    return null;
  });
}

/** Pours a sample away: nothing is wanted of it any more. Said twice, it was said once. */
export function discardSample(db: Knex, id: string, actor: Actor, now: string): Promise<void> {
  return write(db, actor, "measure", async (trx) => {
    const row: { document: string } | undefined = await trx("samples")
      .where({ id, status: "kept" })
      .first("document");
    if (!row) return;
    const document = JSON.stringify({ ...readSampleDocument(row.document), poured_at: now });
    await trx("samples").where({ id }).update({ status: "discarded", waits_until: null, document });
    await writeJournal(trx, now, [
      { person_id: actor.id, action: "sample discarded", subject_kind: "sample", subject_id: id },
    ]);
  });
}

/** Asks for more tests of a sample, beside those that are asked for. */
export function wantTests(
  db: Knex,
  id: string,
  methodIds: readonly string[],
  actor: Actor,
  now: string,
): Promise<void> {
  return write(db, actor, "measure", async (trx) => {
    const row: { wanted: string } | undefined = await trx("samples").where({ id }).first("wanted");
    if (!row) return;
    const before = JSON.parse(row.wanted) as WantedOfSample[];
    const added = (await listMethods(trx)).flatMap(({ method }): WantedOfSample[] =>
      methodIds.includes(method.id) && !before.some((w) => w.method === method.id)
        ? [{ method: method.id, name: method.name, parameter: method.result.parameter }]
        : [],
    );
    if (added.length === 0) return;
    await trx("samples")
      .where({ id })
      .update({ wanted: JSON.stringify([...before, ...added]) });
    await refreshWaiting(trx, id);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "tests wanted",
        subject_kind: "sample",
        subject_id: id,
        after: added.map((w) => w.method),
      },
    ]);
  });
}
