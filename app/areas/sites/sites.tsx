import { Checkbox } from "antd";
import { data, Form, Link, useActionData, useLoaderData, useNavigation } from "react-router";
import { limitSets } from "../../../core/quality/limitSets";
import { dbContext, personContext } from "../../server/contexts.server";
import { fieldErrors } from "../../server/forms.server";
import { siteFromForm } from "../../server/siteForm.server";
import { addSite, chooseLimitSets, listSites } from "../../server/sites.server";
import { SiteFields } from "../../shared/SiteFields";
import type { Route } from "./+types/sites";

export const meta: Route.MetaFunction = () => [{ title: "Sites · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => ({
  sites: await listSites(context.get(dbContext)),
});

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const chosenFor = form.get("limits-of");
  if (typeof chosenFor === "string") {
    const by = context.get(personContext).id;
    const ids = form.getAll("set").map(String);
    await chooseLimitSets(context.get(dbContext), chosenFor, ids, by, new Date().toISOString());
    return data({ errors: {} as Record<string, string>, added: "" });
  }
  const parsed = siteFromForm(form);
  if (!parsed.success) return data({ errors: fieldErrors(parsed.error), added: "" }, { status: 422 });
  const site = await addSite(
    context.get(dbContext),
    parsed.data,
    context.get(personContext).id,
    new Date().toISOString(),
  );
  if (!site)
    return data({ errors: { name: "There is a site of this name already." }, added: "" }, { status: 422 });
  return data({ errors: {} as Record<string, string>, added: site.id });
}

export default function Sites() {
  const { sites } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  return (
    <main>
      <h1>Sites</h1>
      <p className="sub">
        In the order of the water. What you expect there decides which standards are proposed, and which
        values are asked about.
      </p>
      <ul className="list">
        {sites.map((site) => (
          <li key={site.id}>
            <span className="m quiet">{site.position}</span>
            <div>
              <div className="name">{site.name}</div>
              <div className="quiet small">{site.water}</div>
            </div>
            <div className="value">
              {site.expected.ph
                ? `${site.expected.ph.low.toFixed(1)} – ${site.expected.ph.high.toFixed(1)}`
                : "–"}{" "}
              <small>
                pH
                {site.expected.conductivity
                  ? ` · ${site.expected.conductivity.low} – ${site.expected.conductivity.high} µS/cm`
                  : ""}
              </small>
            </div>
            <details className="limit-choice">
              <summary>Limits: {site.limit_sets.length || "none"}</summary>
              <Form method="post" key={site.limit_sets.join()}>
                <input type="hidden" name="limits-of" value={site.id} />
                {limitSets.map((set) => (
                  <Checkbox
                    key={set.id}
                    name="set"
                    value={set.id}
                    defaultChecked={site.limit_sets.includes(set.id)}
                  >
                    {set.name}{" "}
                    <span className="quiet small">
                      {set.authority}
                      {set.from_memory ? ", from memory" : ""}
                    </span>
                  </Checkbox>
                ))}
                <button type="submit" className="calm strong" disabled={busy}>
                  Keep
                </button>
              </Form>
            </details>
            <Link className="calm go" to={`/ledger?site=${site.id}`}>
              Readings
            </Link>
          </li>
        ))}
        {sites.length === 0 && <li className="empty">No site yet. Add the first one below.</li>}
      </ul>
      <h2 style={{ marginTop: 28 }}>Add a site</h2>
      <Form method="post" className="form sheet" key={answer?.added ?? ""}>
        <SiteFields errors={answer?.errors ?? {}} />
        <button type="submit" className="act small" disabled={busy}>
          Add it
        </button>
      </Form>
    </main>
  );
}
