import { data, Form, Link, redirect, useActionData, useLoaderData, useSearchParams } from "react-router";
import {
  everybody,
  findPerson,
  nobodyHasPassword,
  setFirstPassword,
} from "../../server/people/people.server";
import { hashSecret, passwordSchema } from "../../server/people/secret.server";
import { findBrowser } from "../../server/people/sessions.server";
import { type SignedIn, signInByPassword, signInByPin } from "../../server/people/signIn.server";
import { nowIso } from "../../server/platform/clock.server";
import { config } from "../../server/platform/config.server";
import { dbContext } from "../../server/platform/contexts.server";
import { askingOf, safeNext, signInHeaders } from "../../server/platform/session.server";
import { SecretField } from "../../ui/SecretField";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/signIn";
import { PinPad } from "./PinPad";
import "./people.css";

export const meta: Route.MetaFunction = () => [{ title: "Who is at the bench? · Brintel" }];

export const loader = async ({ request, url, context }: Route.LoaderArgs) => {
  const db = context.get(dbContext);
  const people = (await everybody(db)).filter((p) => p.active);
  if (people.length === 0) throw redirect("/start");
  const { browserToken } = await askingOf(request);
  const browser = browserToken ? await findBrowser(db, browserToken, nowIso()) : undefined;
  const first = await nobodyHasPassword(db);
  const chosen = people.find((p) => p.id === url.searchParams.get("as"));
  const byPin = Boolean(browser?.unlocked && chosen?.hasPin && url.searchParams.get("by") !== "password");
  return {
    people: people.map(({ id, name, role }) => ({ id, name, role })),
    chosen: chosen && {
      id: chosen.id,
      name: chosen.name,
      may: first ? chosen.role === "manager" : chosen.hasPassword,
    },
    /** Nobody has a password yet: whoever manages chooses theirs now. */
    first,
    byPin,
    mayPin: Boolean(browser?.unlocked && chosen?.hasPin),
    note: config().BRINTEL_SIGN_IN_NOTE,
  };
};

const field = (form: FormData, name: string): string => {
  const value = form.get(name);
  return typeof value === "string" ? value.slice(0, 400) : "";
};

export async function action({ request, url, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const now = nowIso();
  const person = field(form, "person");
  const asking = await askingOf(request);
  const refuse = (message: string, usePassword = false) => data({ message, usePassword }, { status: 422 });
  let answer: SignedIn;
  if (form.get("do") === "pin") answer = await signInByPin(db, person, field(form, "pin"), asking, now);
  else {
    const password = field(form, "password");
    if (password === "") return refuse("Type your password.");
    if (form.get("do") === "first") {
      const name = (await findPerson(db, person))?.name ?? "-";
      const weak = passwordSchema(name).safeParse(password).error?.issues[0]?.message;
      const wrong = weak ?? (await setFirstPassword(db, person, await hashSecret(password), now));
      if (wrong) return refuse(wrong);
    }
    answer = await signInByPassword(db, person, password, asking, now);
  }
  if ("refused" in answer) return refuse(answer.refused, answer.usePassword);
  return redirect(safeNext(url.searchParams.get("next")), { headers: await signInHeaders(answer) });
}

export default function SignIn() {
  const { people, chosen, first, byPin, mayPin, note } = useLoaderData<typeof loader>();
  const [params] = useSearchParams();
  const next = params.get("next");
  const to = (more: Record<string, string>) =>
    `/sign-in?${new URLSearchParams({ ...more, ...(next ? { next } : {}) })}`;
  const answer = useActionData<typeof action>();
  const busy = useSending();
  if (!chosen) {
    return (
      <div className="stack">
        <div>
          <h1>Who is at the bench?</h1>
          <p className="sub">Everything measured from here on carries this name.</p>
        </div>
        {first && (
          <p className="note">
            Brintel asks for passwords now. Whoever manages chooses theirs first, and gives the others one.
          </p>
        )}
        <ul className="list">
          {people.map((person) => (
            <li key={person.id} className="person-row">
              <Link to={to({ as: person.id })} className="calm">
                {person.name} <span className="quiet">{person.role}</span>
              </Link>
            </li>
          ))}
        </ul>
        {note && <p className="note">{note}</p>}
      </div>
    );
  }
  return (
    <div className="stack">
      <div>
        <h1>{chosen.name}</h1>
        <p className="sub">
          <Link to={to({})}>Somebody else</Link>
        </p>
      </div>
      {!chosen.may ? (
        <p className="note">
          {first
            ? "Whoever manages chooses a password first, and then gives you one."
            : "You have no password yet. Whoever manages gives you one, on the page of the people."}
        </p>
      ) : byPin ? (
        <>
          <PinPad
            key={answer?.message}
            person={chosen.id}
            to={to({ as: chosen.id })}
            wrong={answer?.message}
          />
          <Link to={to({ as: chosen.id, by: "password" })}>Use the password instead</Link>
        </>
      ) : (
        <>
          <Form method="post" action={to({ as: chosen.id, by: "password" })} className="form sheet">
            <input type="hidden" name="person" value={chosen.id} />
            <input type="hidden" name="do" value={first ? "first" : "password"} />
            <input type="hidden" name="username" autoComplete="username" value={chosen.name} />
            <SecretField
              name="password"
              label={first ? "Choose your password" : "Your password"}
              kind={first ? "new-password" : "current-password"}
              wrong={answer?.message}
              {...(first
                ? { hint: "At least 10 characters: three or four words are easy to keep in mind." }
                : {})}
              focus
            />
            <button type="submit" className="act" disabled={busy}>
              Go on
            </button>
          </Form>
          {mayPin && <Link to={to({ as: chosen.id })}>Use the PIN instead</Link>}
        </>
      )}
      {note && <p className="note">{note}</p>}
    </div>
  );
}
