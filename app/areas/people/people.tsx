import {
  data,
  Form,
  redirect,
  useActionData,
  useLoaderData,
  useNavigation,
  useSearchParams,
} from "react-router";
import { addPerson, findPerson, listPeople, newPersonSchema } from "../../server/people.server";
import { dbContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { benchCookie, safeNext } from "../../server/platform/session.server";
import { TextField } from "../../shared/TextField";
import type { Route } from "./+types/people";

export const meta: Route.MetaFunction = () => [{ title: "Who is at the bench? · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => {
  const people = await listPeople(context.get(dbContext));
  if (people.length === 0) throw redirect("/start");
  return { people };
};

export async function action({ request, url, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const chosen = textField(form, "person");
  let person = chosen ? await findPerson(db, chosen) : null;
  if (!person) {
    const parsed = newPersonSchema.safeParse({ name: textField(form, "name") });
    if (!parsed.success) return data({ errors: fieldErrors(parsed.error) }, { status: 422 });
    person = await addPerson(db, parsed.data, null, new Date().toISOString());
    if (!person)
      return data(
        { errors: { name: "There is someone of this name already. Choose them above." } },
        { status: 422 },
      );
  }
  const next = safeNext(url.searchParams.get("next"));
  return redirect(next, { headers: { "Set-Cookie": await benchCookie.serialize(person.id) } });
}

export default function People() {
  const { people } = useLoaderData<typeof loader>();
  const [params] = useSearchParams();
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  const to = `/people?${params}`;
  return (
    <>
      <h1>Who is at the bench?</h1>
      <p className="sub">Everything measured from here on carries this name.</p>
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
      <Form method="post" action={to} className="form">
        <TextField name="name" label="Someone new" wrong={answer?.errors.name} />
        <button type="submit" className="calm strong" disabled={busy} style={{ justifySelf: "start" }}>
          Add and begin
        </button>
      </Form>
    </>
  );
}
