import { CheckOutlined } from "@ant-design/icons";
import { Select } from "antd";
import { useState } from "react";
import { data, Form, Link, useActionData, useLoaderData } from "react-router";
import { z } from "zod";
import {
  addPerson,
  changeRole,
  everybody,
  findPerson,
  givePassword,
  newPersonSchema,
  type PersonFacts,
  personName,
  renamePerson,
  setActive,
} from "../../server/people/people.server";
import { hashSecret, temporaryPassword } from "../../server/people/secret.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { may, rights, roles } from "../../server/platform/rights.server";
import { TextField } from "../../ui/TextField";
import { useSending } from "../../ui/useSending";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/people";
import "./people.css";

export const meta: Route.MetaFunction = () => [{ title: "People · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => ({
  people: await everybody(context.get(dbContext)),
  mayChange: may(context.get(personContext), "people"),
  me: context.get(personContext).id,
  roles,
  rights: Object.entries(rights).map(([right, { words, may: who }]) => ({ right, words, who })),
});

interface Answer {
  /** Whose row it is about, or "new". */
  of: string;
  errors: Record<string, string>;
  /** A password that is shown once, to be read out. */
  given: { name: string; password: string } | null;
}

/** For whoever manages: adds somebody, changes what they do, gives a password, says who left. */
export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const actor = context.get(personContext);
  const form = await request.formData();
  const now = nowIso();
  const refuse = (of: string, errors: Record<string, string>) =>
    data<Answer>({ of, errors, given: null }, { status: 422 });
  const what = textField(form, "do");
  if (what === "add") {
    const parsed = newPersonSchema.safeParse({
      name: textField(form, "name"),
      role: textField(form, "role"),
    });
    if (!parsed.success) return refuse("new", fieldErrors(parsed.error));
    const password = temporaryPassword();
    const added = await addPerson(db, parsed.data, actor, now, {
      password: await hashSecret(password),
      must_change: true,
    });
    if (!added) return refuse("new", { name: "There is someone of this name already." });
    return data<Answer>({ of: added.id, errors: {}, given: { name: added.name, password } });
  }
  const id = textField(form, "person");
  const said = (wrong: string | null) => (wrong ? refuse(id, { person: wrong }) : null);
  switch (what) {
    case "role": {
      const role = z.enum(roles).safeParse(textField(form, "role"));
      return role.success
        ? said(await changeRole(db, id, role.data, actor, now))
        : refuse(id, { person: "Choose what they do from the list." });
    }
    case "name": {
      const name = personName.safeParse(textField(form, "name"));
      return name.success
        ? said(await renamePerson(db, id, name.data, actor, now))
        : refuse(id, { person: name.error.issues[0]?.message ?? "" });
    }
    case "left":
      if (id === actor.id) return refuse(id, { person: "Somebody else takes you out of the list." });
      return said(await setActive(db, id, false, actor, now));
    case "back":
      return said(await setActive(db, id, true, actor, now));
    case "password": {
      const password = temporaryPassword();
      const person = await findPerson(db, id);
      const wrong = await givePassword(db, id, await hashSecret(password), actor, now);
      if (wrong || !person) return refuse(id, { person: wrong ?? "" });
      return data<Answer>({ of: id, errors: {}, given: { name: person.name, password } });
    }
    default:
      return refuse("new", { name: "This is not known here." });
  }
}

export default function People() {
  const { people, mayChange, me, rights } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  return (
    <main className="stack">
      <div>
        <h1>People</h1>
        <p className="sub">
          Who works here, and who may do what. <Link to="/me">Your own sign-in</Link> ·{" "}
          <Link to="/keys">Keys for programs</Link>
        </p>
      </div>
      {answer?.given && (
        <section className="note stack close" role="status" aria-label="A password to read out">
          <p>
            {answer.given.name} signs in once with this password, and then chooses their own. It is shown now
            and never again.
          </p>
          <p className="m given-password">{answer.given.password}</p>
        </section>
      )}
      <ul className="list" aria-label="Who works here">
        {people.map((person) => (
          <PersonRow
            key={`${person.id} ${person.name} ${person.role} ${person.active}`}
            person={person}
            mayChange={mayChange}
            own={person.id === me}
            wrong={answer?.of === person.id ? answer.errors.person : undefined}
          />
        ))}
      </ul>
      {mayChange && <AddPerson key={people.length} errors={answer?.of === "new" ? answer.errors : {}} />}
      <RightsTable rights={rights} />
    </main>
  );
}

function PersonRow({
  person,
  mayChange,
  own,
  wrong,
}: {
  person: PersonFacts;
  mayChange: boolean;
  own: boolean;
  wrong: string | undefined;
}) {
  const busy = useSending();
  const { roles } = useLoaderData<typeof loader>();
  const [role, setRole] = useState<string>(person.role);
  const facts = !person.active
    ? "works here no longer"
    : person.mustChange
      ? "was given a password"
      : person.hasPassword
        ? person.hasPin
          ? "password and PIN"
          : "password"
        : "no password yet";
  return (
    <li className="person-facts" aria-label={person.name}>
      <div className="cluster apart">
        <span>
          <b>{person.name}</b> <span className="quiet">{person.role}</span>
        </span>
        <span className="quiet small">{facts}</span>
      </div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      {mayChange && (
        <Form method="post" className="cluster" preventScrollReset>
          <input type="hidden" name="person" value={person.id} />
          {person.active ? (
            <>
              <input type="hidden" name="role" value={role} />
              <Select
                aria-label={`What ${person.name} does`}
                value={role}
                onChange={setRole}
                options={roles.map((value) => ({ value, label: value }))}
                className="role-choice"
              />
              {role !== person.role && (
                <button type="submit" name="do" value="role" className="calm strong" disabled={busy}>
                  Change what they do
                </button>
              )}
              <button type="submit" name="do" value="password" className="calm" disabled={busy}>
                Give a new password
              </button>
              {!own && (
                <button type="submit" name="do" value="left" className="calm" disabled={busy}>
                  Works here no longer
                </button>
              )}
            </>
          ) : (
            <button type="submit" name="do" value="back" className="calm" disabled={busy}>
              Is back
            </button>
          )}
        </Form>
      )}
      {mayChange && person.active && (
        <details className="take-out">
          <summary>Their name</summary>
          <Form method="post" className="form stack close" preventScrollReset>
            <input type="hidden" name="person" value={person.id} />
            <TextField
              name="name"
              id={`name-${person.id}`}
              label={`What ${person.name} is called`}
              initial={person.name}
            />
            <p className="quiet small">
              The new name stands wherever they are named; the journal keeps both.
            </p>
            <div className="cluster">
              <button type="submit" name="do" value="name" className="calm strong" disabled={busy}>
                Keep the name
              </button>
            </div>
          </Form>
        </details>
      )}
    </li>
  );
}

function AddPerson({ errors }: { errors: Record<string, string> }) {
  const { roles } = useLoaderData<typeof loader>();
  const busy = useSending();
  const [role, setRole] = useState<string>("technician");
  return (
    <section className="sheet" aria-label="Someone new">
      <h2>Someone new</h2>
      <Form method="post" className="form" preventScrollReset>
        <input type="hidden" name="do" value="add" />
        <TextField name="name" label="Their name" wrong={errors.name} />
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
        <div className="actions">
          <button type="submit" className="calm strong" disabled={busy}>
            Add them
          </button>
        </div>
      </Form>
    </section>
  );
}

function RightsTable({
  rights,
}: {
  rights: readonly { right: string; words: string; who: readonly string[] }[];
}) {
  const { roles } = useLoaderData<typeof loader>();
  return (
    <section className="sheet" aria-label="Who may do what">
      <h2>Who may do what</h2>
      <WideTable name="Rights of each role">
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">May</th>
              {roles.map((role) => (
                <th key={role} scope="col">
                  {role}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rights.map(({ right, words, who }) => (
              <tr key={right}>
                <th scope="row">{words}</th>
                {roles.map((role) => (
                  <td key={role} className="may">
                    {who.includes(role) ? (
                      <CheckOutlined aria-label="may" />
                    ) : (
                      <span className="unseen">may not</span>
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
      <p className="quiet small">Everybody may look, calculate, and change their own password and PIN.</p>
    </section>
  );
}
