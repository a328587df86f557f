import "./sites.css";
import { data, Link, useLoaderData } from "react-router";
import { endsInWords, limitedQuantity, limitKinds } from "../../../core/rules/limitSets";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { inUseByForm } from "../../server/platform/inUse.server";
import { may } from "../../server/platform/rights.server";
import { limitQuantities } from "../../server/rules/limitForm.server";
import { storedLimitSets } from "../../server/rules/limitSets.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { allSites } from "../../server/sites/sites.server";
import { Formula } from "../../ui/Formula";
import { OutOfUse, TakeOutOfUse } from "../../ui/OutOfUse";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/limitSet";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.set.name ?? "Limits"} · Brintel` },
];

async function find({ params, context }: Pick<Route.LoaderArgs, "params" | "context">) {
  const stored = (await storedLimitSets(context.get(dbContext))).find(({ set }) => set.id === params.setId);
  if (!stored) throw new Response("No such limits", { status: 404 });
  return stored;
}

export async function loader(args: Route.LoaderArgs) {
  const db = args.context.get(dbContext);
  const stored = await find(args);
  const quantities = await limitQuantities(db);
  return {
    ...stored,
    // A limit of what is measured nowhere says nothing: perhaps its quantity is called otherwise here.
    measured: stored.set.limits.map((limit) =>
      quantities.filter((q) => q.parameter === limit.parameter).reduce((sum, q) => sum + q.sites, 0),
    ),
    sites: (await allSites(db)).flatMap(({ id, name, limit_sets, out_of_use }) =>
      limit_sets.includes(stored.set.id) && !out_of_use ? [{ id, name }] : [],
    ),
    zone: (await rulesInForce(db)).rules.zone,
    mayChange: may(args.context.get(personContext), "rules"),
  };
}

/** Takes the set out of use with a reason, or into use again. */
export async function action(args: Route.ActionArgs) {
  const { set } = await find(args);
  const [db, actor] = [args.context.get(dbContext), args.context.get(personContext)];
  const inUse = await inUseByForm(db, "limit-sets", set.id, await args.request.formData(), actor, nowIso());
  return data({ message: inUse?.message ?? "" }, { status: inUse?.message ? 422 : 200 });
}

export default function LimitSetPage() {
  const { set, own, out_of_use: out, measured, sites, zone, mayChange } = useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>{set.name}</h1>
          <p className="sub">
            {set.authority}
            {set.from_memory ? ", from memory" : ""}
            {own ? ". Your own." : ". It ships with Brintel."}
          </p>
        </div>
        <Link to="/sites/limits" className="calm">
          All limits
        </Link>
      </div>
      {out && (
        <OutOfUse
          out={out}
          zone={zone}
          mayChange={mayChange}
          what="It is offered to no site any more. Where it is still ticked, it stays until somebody unticks it there."
        />
      )}
      <WideTable name="Its limits">
        <table className="figures">
          <thead>
            <tr>
              <th>Of what</th>
              <th>Between</th>
              <th>How binding</th>
              <th className="r">Measured at</th>
            </tr>
          </thead>
          <tbody>
            {set.limits.map((limit, i) => (
              <tr key={`${limit.parameter} ${limit.species} ${limit.kind}`}>
                <td>{limitedQuantity(limit)}</td>
                <td className="m">
                  <Formula>{endsInWords(limit)}</Formula>
                </td>
                <td>{limitKinds[limit.kind]}</td>
                <td className="r">
                  {measured[i] ? (
                    <Link to={`/ledger?parameter=${limit.parameter}`}>
                      {measured[i] === 1 ? "1 site" : `${measured[i]} sites`}
                    </Link>
                  ) : (
                    <span className="quiet">no site yet</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
      <section className="stack close" aria-label="Where it holds">
        <h2>Where it holds</h2>
        {sites.length === 0 ? (
          <p className="quiet">At no site: it is chosen on the page of a site.</p>
        ) : (
          <p className="cluster">
            {sites.map(({ id, name }) => (
              <Link key={id} to={`/sites/${id}`}>
                {name}
              </Link>
            ))}
          </p>
        )}
      </section>
      {!out && mayChange && (
        <TakeOutOfUse
          summary="These limits are used no more"
          hint="They are offered to no further site. Where they are ticked they stay until somebody unticks them there, and what was signed keeps what it was compared with."
        />
      )}
    </main>
  );
}
