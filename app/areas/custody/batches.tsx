import { useSending } from "../../ui/useSending";
import "./custody.css";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { counted } from "../../../core/quantity/format";
import { labTests, usualTests } from "../../../core/samples/labTests";
import { showTime } from "../../../core/time/words";
import { startRefusal } from "../../server/bench/bench.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { custodySamples, idsIn, recentBatches, startBatch } from "../../server/samples/batches.server";
import { labelsOf } from "../../server/samples/samplePage.server";
import { ManyField } from "../../ui/ManyField";
import { TextField } from "../../ui/TextField";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/batches";

export const meta: Route.MetaFunction = () => [{ title: "Batches · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const chosen = idsIn(url.searchParams.getAll("id"));
  const kept = await custodySamples(db, Object.fromEntries(chosen.map((id) => [id, []])));
  const batches = await recentBatches(db);
  return {
    chosen: (await labelsOf(db, chosen))
      .filter((l) => kept.some((k) => k.id === l.id))
      .map((l) => ({ ...l, usual: [...(usualTests[l.type_id] ?? [])] })),
    batches,
    laboratories: [...new Set(batches.map((b) => b.laboratory))],
    holder: context.get(personContext).name,
    zone: (await rulesInForce(db)).rules.zone,
    ids: { work: ulid(), event: ulid() },
  };
}

const text = (max: number) =>
  z
    .string()
    .trim()
    .max(max, { error: `Keep it under ${max + 1} characters.` });
const formSchema = z.object({
  work: z.ulid(),
  event: z.ulid(),
  laboratory: text(80).min(1, { error: "Say which laboratory they go to." }),
  holder: text(80).min(1, { error: "Say who has them now." }),
  programme: text(80),
  contact: text(120),
  notes: text(500),
});

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const read = formSchema.safeParse(Object.fromEntries(form));
  if (!read.success) return data({ errors: fieldErrors(read.error) }, { status: 422 });
  const refuse = (message: string) => data({ errors: { form: message } }, { status: 422 });
  const ids = idsIn(form.getAll("id"));
  const tests = Object.fromEntries(ids.map((id) => [id, form.getAll(`tests-${id}`).map(String)]));
  const samples = await custodySamples(db, tests);
  if (samples.length === 0) return refuse("Choose at least one sample that is still there.");
  const without = samples.find((s) => s.tests.length === 0);
  if (without) return refuse(`Say what the laboratory is to test ${without.code} for.`);
  const { work, event, ...batch } = read.data;
  const start = { work_id: work, event_id: event, actor: context.get(personContext), at: nowIso() };
  try {
    await startBatch(db, start, batch, samples);
  } catch (error) {
    return refuse(startRefusal(error));
  }
  return redirect(`/custody/${work}`);
}

type Loaded = ReturnType<typeof useLoaderData<typeof loader>>;

export default function Batches() {
  const loaded = useLoaderData<typeof loader>();
  const { chosen, batches, zone } = loaded;
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>Batches</h1>
          <p className="sub">
            Samples that go to a laboratory: every hand that held them, how cold they stayed, and what came
            back.
          </p>
        </div>
        <Link to="/samples?which=all" className="calm strong">
          Choose samples
        </Link>
      </div>
      {chosen.length > 0 && <NewBatch {...loaded} />}
      <section className="stack close" aria-label="Lately">
        <h2>Lately</h2>
        {batches.length === 0 ? (
          <p className="sheet">
            No batch yet. Choose samples in <Link to="/samples?which=all">the register</Link>, then “Send the
            chosen ones to a laboratory”.
          </p>
        ) : (
          <WideTable name="Batches">
            <table className="figures">
              <thead>
                <tr>
                  <th>Laboratory</th>
                  <th>Made</th>
                  <th>Samples</th>
                  <th>Where it is</th>
                  <th>Chain</th>
                </tr>
              </thead>
              <tbody>
                {batches.map((b) => (
                  <tr key={b.id}>
                    <td>
                      <Link to={`/custody/${b.id}`}>{b.laboratory}</Link>
                    </td>
                    <td className="nowrap">{showTime(b.made_at, zone, "both")}</td>
                    <td className="m">{b.samples}</td>
                    <td>{whereWords(b, zone)}</td>
                    <td>
                      <VerdictMark verdict={b.gaps ? "qualified" : "sound"} />{" "}
                      {b.gaps ? counted(b.gaps, "gap") : "closed"}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
        )}
      </section>
    </main>
  );
}

function whereWords(b: Loaded["batches"][number], zone: string): string {
  if (b.status === "abandoned") return "given up";
  if (!b.received_at) return b.awaited ? "not received yet" : "results came without a receipt";
  const since = `received ${showTime(b.received_at, zone, "both")}`;
  return b.awaited ? `${since}, ${counted(b.awaited, "result")} awaited` : `${since}, every result came`;
}

function NewBatch({ chosen, laboratories, holder, ids }: Loaded) {
  const errors: Record<string, string | undefined> = useActionData<typeof action>()?.errors ?? {};
  const busy = useSending();
  return (
    <Form method="post" className="sheet stack">
      <h2>A new batch of {counted(chosen.length, "sample")}</h2>
      <input type="hidden" name="work" value={ids.work} />
      <input type="hidden" name="event" value={ids.event} />
      <ul className="batch-choice">
        {chosen.map((s) => (
          <li key={s.id}>
            <input type="hidden" name="id" value={s.id} />
            <span className="what">
              <b className="m">{s.code}</b>
              <span className="quiet">
                {s.bottle}, {s.site}
              </span>
            </span>
            <ManyField
              name={`tests-${s.id}`}
              label={`Tests of ${s.code}`}
              options={labTests.map((t) => ({ value: t.parameter, label: t.analyte }))}
              initial={s.usual}
              placeholder="Tests"
              hidden
            />
          </li>
        ))}
      </ul>
      <div className="two">
        <TextField
          name="laboratory"
          label="Which laboratory"
          wrong={errors.laboratory}
          initial={laboratories[0] ?? ""}
        />
        <TextField name="holder" label="Who has them now" wrong={errors.holder} initial={holder} />
      </div>
      <div className="two">
        <TextField name="programme" label="Programme" wrong={errors.programme} />
        <TextField name="contact" label="Whom the laboratory asks" wrong={errors.contact} />
      </div>
      <TextField
        name="notes"
        label="What the laboratory should know"
        hint="Anything that may affect the samples, and hazards in the water."
        wrong={errors.notes}
      />
      {errors.form && (
        <p className="wrong" role="alert">
          {errors.form}
        </p>
      )}
      <div className="cluster">
        <button type="submit" className="act" disabled={busy}>
          Make the batch
        </button>
      </div>
    </Form>
  );
}
