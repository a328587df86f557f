import { data, Form, Link, useActionData, useLoaderData, useNavigation } from "react-router";
import { dbContext, personContext } from "../../server/contexts.server";
import { fieldErrors } from "../../server/forms.server";
import { siteFromForm } from "../../server/siteForm.server";
import { addSite, listSites } from "../../server/sites.server";
import { SiteFields } from "../../shared/SiteFields";
import type { Route } from "./+types/sites";

export const meta: Route.MetaFunction = () => [{ title: "Sites · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => ({
  sites: await listSites(context.get(dbContext)),
});

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
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
