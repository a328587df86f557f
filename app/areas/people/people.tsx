import { Select } from "antd";
import { useState } from "react";
import {
  data,
  Form,
  Link,
  redirect,
  useActionData,
  useLoaderData,
  useNavigation,
  useSearchParams,
} from "react-router";
import { addPerson, findPerson, listPeople, newPersonSchema } from "../../server/people/people.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { may, roles } from "../../server/platform/rights.server";
import { benchCookie, safeNext, whoIsHere } from "../../server/platform/session.server";
import { TextField } from "../../ui/TextField";
import type { Route } from "./+types/people";

export const meta: Route.MetaFunction = () => [{ title: "Who is at the bench? · Brintel" }];

export const loader = async ({ request, context }: Route.LoaderArgs) => {
  const db = context.get(dbContext);
  const people = await listPeople(db);
  if (people.length === 0) throw redirect("/start");
  const here = await whoIsHere(request, db);
  return { people, mayAdd: here !== undefined && may(here, "people"), roles };
};

/** Chooses who is at the bench, or, for whoever manages, adds somebody. */
export async function action({ request, url, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const chosen = textField(form, "person");
  if (chosen) {
    const person = await findPerson(db, chosen);
    if (!person)
      return data({ errors: { person: "This person is not in the list any more." } }, { status: 422 });
    const next = safeNext(url.searchParams.get("next"));
    return redirect(next, { headers: { "Set-Cookie": await benchCookie.serialize(person.id) } });
  }
  const here = await whoIsHere(request, db);
  if (!here || !may(here, "people")) {
    return data(
      { errors: { name: "Only a manager adds people. Choose the manager above first." } },
      { status: 403 },
    );
  }
  const parsed = newPersonSchema.safeParse({ name: textField(form, "name"), role: textField(form, "role") });
  if (!parsed.success) return data({ errors: fieldErrors(parsed.error) }, { status: 422 });
  const added = await addPerson(db, parsed.data, here, nowIso());
  if (!added) return data({ errors: { name: "There is someone of this name already." } }, { status: 422 });
  return redirect(`/people?${url.searchParams}`);
}

export default function People() {
  const { people, mayAdd, roles } = useLoaderData<typeof loader>();
  const [params] = useSearchParams();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  const busy = useNavigation().state !== "idle";
  const [role, setRole] = useState<string>("technician");
  const to = `/people?${params}`;
  return (
    <>
      <h1>Who is at the bench?</h1>
      <p className="sub">Everything measured from here on carries this name.</p>
      {errors.person && <p className="wrong">{errors.person}</p>}
      <ul className="list">
        {people.map((person) => (
          <li key={person.id} className="person-row">
            <Form method="post" action={to}>
              <button type="submit" name="person" value={person.id} className="calm" disabled={busy}>
                {person.name} <span className="quiet">{person.role}</span>
              </button>
            </Form>
          </li>
        ))}
      </ul>
      {mayAdd ? (
        <Form method="post" action={to} className="form sheet" key={people.length}>
          <TextField name="name" label="Someone new" wrong={errors.name} />
          <div className="field">
            <span className="label">What they do</span>
            <input type="hidden" name="role" value={role} />
            <Select
              aria-label="What they do"
              size="large"
              value={role}
              onChange={setRole}
              options={roles.map((value) => ({ value, label: value }))}
            />
          </div>
          <button type="submit" className="calm strong" disabled={busy}>
            Add them
          </button>
        </Form>
      ) : (
        <p className="quiet">
          Someone new? Whoever manages is chosen first, comes back to <Link to="/people">this list</Link>, and
          adds them.
        </p>
      )}
    </>
  );
}
