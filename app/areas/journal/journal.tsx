import { Select } from "antd";
import { Form, Link, redirect, useLoaderData, useNavigate, useSearchParams } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { dayBounds } from "../../../core/time/zone";
import { everybody } from "../../server/people/people.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { journalPage, journalQuerySchema, knownActions } from "../../server/upkeep/journalPage.server";
import { lastVerification } from "../../server/upkeep/verify.server";
import { startVerification, verificationUnderWay } from "../../server/upkeep/verifyRunner.server";
import { useLookAgain } from "../../ui/useLookAgain";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/journal";
import { Checked } from "./Checked";
import { EntryLine } from "./EntryLine";
import "./journal.css";

export const meta: Route.MetaFunction = () => [{ title: "Journal · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const query = journalQuerySchema.parse(
    Object.fromEntries([...url.searchParams].filter(([, v]) => v !== "")),
  );
  const { zone } = (await rulesInForce(db)).rules;
  return {
    ...(await journalPage(db, query, dayBounds(zone))),
    query,
    zone,
    people: (await everybody(db)).map((p) => ({ value: p.id, label: p.name })),
    actions: await knownActions(db),
    last: await lastVerification(db),
    underWay: verificationUnderWay(),
    mayCheck: may(context.get(personContext), "review"),
  };
}

/** Begins a check of everything. */
export async function action({ context }: Route.ActionArgs) {
  await startVerification(context.get(dbContext), context.get(personContext).id);
  return redirect("/journal");
}

export default function Journal() {
  const { lines, older, query, zone, people, actions, last, underWay, mayCheck } =
    useLoaderData<typeof loader>();
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const busy = useSending();
  useLookAgain(async () => true, underWay !== null);
  const to = (changes: Record<string, string | undefined>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes)) {
      if (value) next.set(key, value);
      else next.delete(key);
    }
    return `/journal?${next}`;
  };
  const filter = (changes: Record<string, string | undefined>) =>
    navigate(to({ ...changes, before: undefined }), { preventScrollReset: true });
  return (
    <main className="stack">
      <div>
        <h1>Journal</h1>
        <p className="sub">
          Everything that was done here, in order. Each entry carries the hash of the one before it: nothing
          can be changed or taken out unseen.
        </p>
      </div>
      <section className="sheet stack close" aria-label="The check">
        {underWay ? (
          <div aria-live="polite">
            <p>
              Checking: <span className="m">{formatNumber(underWay.entries, 0)}</span> of{" "}
              <span className="m">{formatNumber(underWay.total, 0)}</span> entries …
            </p>
            <progress max={underWay.total} value={underWay.entries} aria-label="How much is checked" />
          </div>
        ) : (
          <Checked last={last} zone={zone} />
        )}
        {mayCheck && !underWay && (
          <Form method="post">
            <button type="submit" className="calm strong" disabled={busy}>
              Check everything now
            </button>
          </Form>
        )}
      </section>
      <div className="cluster">
        <Select
          aria-label="Who"
          size="large"
          allowClear
          placeholder="Anybody"
          className="journal-choice"
          {...(query.person ? { value: query.person } : {})}
          onChange={(value?: string) => filter({ person: value })}
          options={people}
        />
        <Select
          aria-label="What was done"
          size="large"
          allowClear
          showSearch
          placeholder="Anything"
          className="journal-choice"
          {...(query.action ? { value: query.action } : {})}
          onChange={(value?: string) => filter({ action: value })}
          options={actions.map((value) => ({ value, label: value === "bench" ? "bench work" : value }))}
        />
        {query.about && (
          <Link to={to({ about: undefined, before: undefined })} className="calm">
            About one thing only ✕
          </Link>
        )}
      </div>
      <ol className="entries" aria-label="Entries">
        {lines.map((line) => (
          <EntryLine
            key={line.seq}
            line={line}
            zone={zone}
            aboutHref={to({ about: line.subject_id, before: undefined })}
          />
        ))}
      </ol>
      {lines.length === 0 && <p className="note">Nothing of that kind was done. Clear a filter.</p>}
      <nav className="pager cluster" aria-label="Pages of the journal">
        {query.before && (
          <Link className="calm" to={to({ before: undefined })}>
            Newest
          </Link>
        )}
        {older && (
          <Link className="calm" to={to({ before: String(older) })}>
            Older →
          </Link>
        )}
      </nav>
    </main>
  );
}
