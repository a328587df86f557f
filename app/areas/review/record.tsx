import { Input, Select } from "antd";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { may } from "../../server/platform/rights.server";
import { amendable, amendableOf, amendReading, presentText } from "../../server/review/amend.server";
import { recordOf } from "../../server/review/record.server";
import { remark, remarkSchema } from "../../server/review/remarks.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { EvidenceClaim } from "../../ui/EvidenceClaim";
import { Formula } from "../../ui/Formula";
import { resultHref } from "../../ui/results";
import { useSending } from "../../ui/useSending";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/record";
import "./review.css";

export const meta: Route.MetaFunction = () => [{ title: "Record of a result · Brintel" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const record = await recordOf(db, params.readingId);
  if (!record) throw new Response("No such result", { status: 404 });
  const { reading } = record;
  const { zone } = (await rulesInForce(db)).rules;
  const what = amendableOf(reading);
  return {
    ...record,
    zone,
    present: Object.fromEntries(what.map((w) => [w, presentText(reading, w)])),
    what,
    mayAmend: may(context.get(personContext), "amend"),
    // A remark bears the name that its page gave it: sent twice it is kept once.
    next: ulid(),
  };
}

const formSchema = z.object({
  what: z.enum(amendable),
  text: z
    .string()
    .trim()
    .min(1, { error: "Type what it should be." })
    .max(60, { error: "At most 60 characters." }),
  reason: z
    .string()
    .trim()
    .min(3, { error: "Say why: whoever asks later reads it." })
    .max(200, { error: "Keep it under 201 characters." }),
  judgement: z.coerce.number().int().min(1),
});

export async function action({ params, request, context }: Route.ActionArgs) {
  const form = Object.fromEntries(await request.formData());
  if (form.do === "remark") return keepRemark(params.readingId, form, context);
  const read = formSchema.safeParse(form);
  const refuse = (errors: Record<string, string>) => data({ errors }, { status: 422 });
  if (!read.success) return refuse(fieldErrors(read.error));
  const refused = await amendReading(
    context.get(dbContext),
    params.readingId,
    read.data,
    context.get(personContext),
    nowIso(),
  );
  return refused ? refuse({ text: refused }) : redirect(`/records/${params.readingId}`);
}

async function keepRemark(
  readingId: string,
  form: Record<string, FormDataEntryValue>,
  context: Route.ActionArgs["context"],
) {
  const read = remarkSchema.safeParse({ id: form.id, text: form.remark });
  if (!read.success) {
    const { text, id } = fieldErrors(read.error);
    return data({ errors: { remark: text ?? id ?? "" } as Record<string, string> }, { status: 422 });
  }
  const kept = await remark(
    context.get(dbContext),
    readingId,
    read.data,
    context.get(personContext),
    nowIso(),
  );
  if (!kept) throw new Response("No such result", { status: 404 });
  return redirect(`/records/${readingId}`);
}

export default function RecordPage() {
  const { reading, steps, signed, zone, judgements, what, present, mayAmend, next } =
    useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div>
        <h1>
          <Formula>{reading.analyte}</Formula>, {reading.site}
        </h1>
        <p className="sub">
          Sample <span className="m">{reading.sample}</span>, {showTime(reading.measured_at, zone, "full")},{" "}
          {reading.by}
        </p>
      </div>
      <section className="sheet stack close" aria-label="The result">
        <EvidenceClaim result={reading} />
        <p className={signed ? "" : "quiet"}>{signed ? "Signed as it is." : "Not signed as it is now."}</p>
        <p className="cluster">
          <Link to={resultHref(reading)}>What it rests on</Link>
          <Link to={`/records/${reading.id}/record`}>Print this record</Link>
        </p>
      </section>
      <section className="sheet stack" aria-label="From the bottle to the signature">
        <h2>From the bottle to the signature</h2>
        <ol className="trail">
          {steps.map((s, i) => (
            <li key={i}>
              <div>
                <b>{s.what}</b> {s.verdict && <VerdictMark verdict={s.verdict} word />}{" "}
                {s.by && <>by {s.by}</>}
              </div>
              {s.says && <div>{s.says}</div>}
              <div className="when m">{showTime(s.at, zone, "full")}</div>
            </li>
          ))}
        </ol>
      </section>
      {mayAmend && <Remark key={next} id={next} />}
      {mayAmend && what.length > 0 && (
        <Amend
          key={judgements}
          what={what}
          present={present}
          judgement={judgements}
          unit={reading.unit}
          meter={reading.source === "meter"}
        />
      )}
    </main>
  );
}

/** A remark beside the result: it changes nothing of it. */
function Remark({ id }: { id: string }) {
  const answer = useActionData<typeof action>();
  const wrong = (answer?.errors as Record<string, string> | undefined)?.remark;
  const busy = useSending();
  return (
    <section className="sheet" aria-label="Write something beside it">
      <h2>Write something beside it</h2>
      <Form method="post" className="form" preventScrollReset>
        <input type="hidden" name="do" value="remark" />
        <input type="hidden" name="id" value={id} />
        <div className="field">
          <label htmlFor="remark">What whoever reads it later should know</label>
          <Input.TextArea
            id="remark"
            name="remark"
            rows={2}
            maxLength={500}
            status={wrong ? "error" : ""}
            aria-invalid={wrong ? true : undefined}
          />
          {wrong && (
            <div className="wrong" role="alert">
              {wrong}
            </div>
          )}
          <div className="hint">It stays with the result under your name, and changes nothing of it.</div>
        </div>
        <div className="actions">
          <button type="submit" className="calm strong" disabled={busy}>
            Keep the remark
          </button>
        </div>
      </Form>
    </section>
  );
}

/** Amending: what it should be and why; what it was stays beside it. */
function Amend({
  what,
  present,
  judgement,
  unit,
  meter,
}: {
  what: readonly (typeof amendable)[number][];
  present: Record<string, string>;
  judgement: number;
  unit: string;
  meter: boolean;
}) {
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  const busy = useSending();
  const [chosen, setChosen] = useState(what[0] ?? "value");
  const words = {
    value: meter ? "The value, as it was measured" : "The value",
    sample: "The name of the sample",
  };
  return (
    <section className="sheet" aria-label="Amend it">
      <h2>Amend it</h2>
      <p className="quiet">
        For a slip of the pen. What it was stays beside it, with your name; a result with another value is
        qualified by it, and is reviewed anew.
      </p>
      <Form method="post" className="form" preventScrollReset>
        <input type="hidden" name="judgement" value={judgement} />
        <input type="hidden" name="what" value={chosen} />
        <div className="field">
          <span className="label">What was wrong</span>
          <Select
            aria-label="What was wrong"
            size="large"
            value={chosen}
            onChange={setChosen}
            options={what.map((value) => ({ value, label: words[value] }))}
          />
        </div>
        <div className="field">
          <label htmlFor="text">What it should be</label>
          <Input
            key={chosen}
            id="text"
            name="text"
            size="large"
            className="m"
            autoComplete="off"
            defaultValue={present[chosen]}
            suffix={chosen === "value" && unit !== "pH" ? unit : undefined}
            status={errors.text ? "error" : ""}
            aria-invalid={errors.text ? true : undefined}
          />
          {errors.text ? (
            <div className="wrong" role="alert">
              {errors.text}
            </div>
          ) : (
            chosen === "sample" && (
              <div className="hint">Where a bottle bears this name, the result is of its water.</div>
            )
          )}
        </div>
        <div className="field">
          <label htmlFor="reason">Why</label>
          <Input
            id="reason"
            name="reason"
            size="large"
            maxLength={200}
            status={errors.reason ? "error" : ""}
          />
          {errors.reason && (
            <div className="wrong" role="alert">
              {errors.reason}
            </div>
          )}
        </div>
        <div className="actions">
          <button type="submit" className="calm strong" disabled={busy}>
            Amend it
          </button>
        </div>
      </Form>
    </section>
  );
}
