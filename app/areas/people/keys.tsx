import { data, Form, Link, useActionData, useLoaderData } from "react-router";
import { showTime } from "../../../core/time/words";
import { type ApiKey, endKey, keyNameSchema, listKeys, makeKey } from "../../server/people/keys.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { textField } from "../../server/platform/forms.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { TextField } from "../../ui/TextField";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/keys";
import "./people.css";

export const meta: Route.MetaFunction = () => [{ title: "Keys for programs · Brintel" }];

export async function loader({ context, url }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  return {
    keys: await listKeys(db),
    mayMake: may(context.get(personContext), "upkeep"),
    zone: (await rulesInForce(db)).rules.zone,
    origin: url.origin,
  };
}

interface Answer {
  error: string | null;
  /** A key that is shown once. */
  made: { name: string; key: string } | null;
}

/** For whoever manages: makes a key for a program, or ends one. */
export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const actor = context.get(personContext);
  const form = await request.formData();
  const refuse = (error: string) => data<Answer>({ error, made: null }, { status: 422 });
  if (textField(form, "do") === "end") {
    const ended = await endKey(db, textField(form, "key"), actor, nowIso());
    return ended ? data<Answer>({ error: null, made: null }) : refuse("This key has ended already.");
  }
  const name = keyNameSchema.safeParse(textField(form, "name"));
  if (!name.success) return refuse(name.error.issues[0]?.message ?? "");
  const key = await makeKey(db, name.data, actor, nowIso());
  return data<Answer>({ error: null, made: { name: name.data, key } });
}

/** Keys by which other programs read the records. */
export default function Keys() {
  const { keys, mayMake, zone, origin } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  return (
    <main className="stack">
      <div>
        <h1>Keys for programs</h1>
        <p className="sub">
          With a key another program reads results, meters, bottles and what is due. It changes nothing.{" "}
          <a href="/api/openapi.json">What it may ask</a>
        </p>
      </div>
      {answer?.made && (
        <section className="sheet stack close" role="status" aria-label="The key that was made">
          <p>
            The key for {answer.made.name}. Put it into that program now: it is shown once and kept nowhere.
          </p>
          <p className="m given-key">{answer.made.key}</p>
          <p className="m small given-key">
            curl -H "Authorization: Bearer {answer.made.key}" {origin}/api/v1/readings?limit=5
          </p>
        </section>
      )}
      {mayMake && (
        <Form method="post" className="sheet stack close" key={answer?.made?.key}>
          <h2>A key for a program</h2>
          <TextField
            name="name"
            label="Which program it is for"
            wrong={answer?.error ?? undefined}
            hint="Whoever finds this list in a year should know what stops when the key ends."
          />
          <div className="actions">
            <button type="submit" name="do" value="make" className="act" disabled={busy}>
              Make a key
            </button>
          </div>
        </Form>
      )}
      {keys.length ? (
        <ul className="list" aria-label="Keys that were made">
          {keys.map((key) => (
            <KeyRow key={key.id} of={key} zone={zone} mayEnd={mayMake} busy={busy} />
          ))}
        </ul>
      ) : (
        <p className="quiet">No program has a key.{!mayMake && " Whoever manages makes them."}</p>
      )}
      <p className="quiet small">
        A file of everything that a filter finds needs no key: <Link to="/ledger">the ledger</Link> has it as
        CSV and JSON.
      </p>
    </main>
  );
}

function KeyRow({ of, zone, mayEnd, busy }: { of: ApiKey; zone: string; mayEnd: boolean; busy: boolean }) {
  const used = of.used_at ? `last used ${showTime(of.used_at, zone, "both")}` : "never used";
  return (
    <li className="key-row">
      <div>
        <b>{of.name}</b> <span className="m small quiet">{of.begins}…</span>
        <div className="small quiet">
          made {showTime(of.made_at, zone, "both")} by {of.by},{" "}
          {of.ended_at ? `ended ${showTime(of.ended_at, zone, "both")}` : used}
        </div>
      </div>
      {mayEnd && !of.ended_at && (
        <Form method="post">
          <input type="hidden" name="key" value={of.id} />
          <button
            type="submit"
            name="do"
            value="end"
            className="calm"
            disabled={busy}
            aria-label={`End the key for ${of.name}`}
          >
            End it
          </button>
        </Form>
      )}
    </li>
  );
}
