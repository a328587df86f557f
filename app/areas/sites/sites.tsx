import { data, Form, Link, useActionData, useLoaderData, useNavigation } from "react-router";
import { dbContext, personContext } from "../../server/contexts.server";
import { fieldErrors, numberField, textField } from "../../server/forms.server";
import { addSite, listSites, newSiteSchema } from "../../server/sites.server";
import { SiteFields } from "../../shared/SiteFields";
import type { Route } from "./+types/sites";

export const meta: Route.MetaFunction = () => [{ title: "Sites · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => ({
  sites: await listSites(context.get(dbContext)),
});

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const parsed = newSiteSchema.safeParse({
    name: textField(form, "name"),
    water: textField(form, "water"),
    expected_ph_low: numberField(form, "expected_ph_low"),
    expected_ph_high: numberField(form, "expected_ph_high"),
  });
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
      <p className="sub">In the order of the water. The expected pH decides which buffers are proposed.</p>
      <ul className="list">
        {sites.map((site) => (
          <li key={site.id}>
            <span className="m quiet">{site.position}</span>
            <div>
              <div className="name">{site.name}</div>
              <div className="quiet small">{site.water}</div>
            </div>
            <div className="value">
              {site.expected_ph_low.toFixed(1)} – {site.expected_ph_high.toFixed(1)}{" "}
              <small>pH expected</small>
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
