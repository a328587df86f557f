import type { ReactNode } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { showTime } from "../../../core/time/words";
import { everybody, setPassword, setPin, signOutEverywhere } from "../../server/people/people.server";
import { hashSecret, passwordSchema, pinSchema } from "../../server/people/secret.server";
import { sessionsOf } from "../../server/people/sessions.server";
import { checkOwnPassword } from "../../server/people/signIn.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext, sessionContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { SecretField } from "../../ui/SecretField";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/me";
import "./people.css";

export const meta: Route.MetaFunction = () => [{ title: "Your sign-in · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const session = context.get(sessionContext);
  const { rules } = await rulesInForce(db);
  const facts = (await everybody(db)).find((p) => p.id === person.id);
  const sessions = await sessionsOf(db, person.id, nowIso());
  return {
    person,
    mustChange: session?.mustChange ?? false,
    hasPin: facts?.hasPin ?? false,
    zone: rules.zone,
    sessions: sessions.map(({ key, ...rest }) => ({ ...rest, here: key === session?.key })),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const session = context.get(sessionContext);
  const form = await request.formData();
  const now = nowIso();
  const text = (name: string) => String(form.get(name) ?? "").slice(0, 400);
  const refuse = (errors: Record<string, string>) => data({ errors, done: "" }, { status: 422 });
  const done = (words: string) => data({ errors: {} as Record<string, string>, done: words });
  // Who finds a bench left open must not be able to take it over: their own password is asked for again.
  const wrong = await checkOwnPassword(db, person.id, text("present"), now);
  const what = String(form.get("do"));
  if (wrong) return refuse({ [`present-${what}`]: wrong });
  switch (what) {
    case "password": {
      const read = passwordSchema(person.name).safeParse(text("password"));
      if (!read.success) return refuse({ password: read.error.issues[0]?.message ?? "" });
      if (read.data === text("present"))
        return refuse({ password: "This is the one you have. Choose another." });
      await setPassword(db, person.id, await hashSecret(read.data), session?.key, now);
      return session?.mustChange
        ? redirect("/")
        : done("Your password is changed; you are signed out elsewhere.");
    }
    case "pin": {
      const read = pinSchema.safeParse(text("pin"));
      if (!read.success) return refuse({ pin: read.error.issues[0]?.message ?? "" });
      await setPin(db, person.id, await hashSecret(read.data), now);
      return done("Your PIN is set.");
    }
    case "no-pin":
      await setPin(db, person.id, null, now);
      return done("You have no PIN any longer.");
    case "everywhere": {
      const ended = await signOutEverywhere(db, person.id, session?.key, now);
      return done(ended === 0 ? "You were signed in nowhere else." : "You are signed out everywhere else.");
    }
    default:
      return refuse({ "present-password": "This is not known here." });
  }
}

/** One thing about one's sign-in, with one's password to confirm the change. */
function Change({
  what,
  title,
  buttons,
  facts,
  children,
}: {
  what: string;
  title: string;
  /** What the buttons do, and what stands on them. */
  buttons: [what: string, words: string][];
  facts?: ReactNode;
  children?: ReactNode;
}) {
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const errors: Record<string, string> = answer?.errors ?? {};
  const wrong = buttons.flatMap(([name]) => errors[`present-${name}`] ?? [])[0];
  return (
    <section className="sheet" aria-label={title}>
      <h2>{title}</h2>
      {facts}
      <Form method="post" className="form" preventScrollReset>
        <SecretField
          id={`present-${what}`}
          name="present"
          label={what === "password" ? "The password you have" : "Your password, to confirm"}
          kind="current-password"
          wrong={wrong}
        />
        {children}
        <div className="actions">
          {buttons.map(([name, words]) => (
            <button
              key={name}
              type="submit"
              name="do"
              value={name}
              className={name === what ? "calm strong" : "calm"}
              disabled={busy}
            >
              {words}
            </button>
          ))}
        </div>
      </Form>
    </section>
  );
}

export default function Me() {
  const { person, mustChange, hasPin, zone, sessions } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  return (
    <main className="stack">
      <div>
        <h1>{person.name}</h1>
        <p className="sub">
          {person.role} · <Link to="/people">who works here, and who may do what</Link>
        </p>
      </div>
      {mustChange && <p className="note">Your password was given to you. Choose your own to go on.</p>}
      {answer?.done && (
        <p className="note" role="status">
          {answer.done}
        </p>
      )}
      <div className="columns" key={answer?.done}>
        <Change what="password" title="Password" buttons={[["password", "Change it"]]}>
          <SecretField
            name="password"
            label="The new one"
            kind="new-password"
            wrong={errors.password}
            hint="At least 10 characters: three or four words are easy to keep in mind."
          />
        </Change>
        {!mustChange && (
          <Change
            what="pin"
            title={hasPin ? "PIN" : "A PIN for quick changes"}
            buttons={[
              ["pin", hasPin ? "Change it" : "Set it"],
              ...(hasPin ? ([["no-pin", "Take it away"]] as [string, string][]) : []),
            ]}
          >
            <SecretField
              name="pin"
              label="The new PIN"
              kind="one-time-code"
              digits
              wrong={errors.pin}
              hint="Four to eight digits. It does where somebody signed in with a password in the last 14 hours."
            />
          </Change>
        )}
        {!mustChange && (
          <Change
            what="everywhere"
            title="Where you are signed in"
            buttons={[["everywhere", "Sign out everywhere else"]]}
            facts={
              <ul className="points">
                {sessions.map((s) => (
                  <li key={`${s.begun_at} ${s.here}`}>
                    <b>{s.here ? `${s.browser}, here` : s.browser}</b>: since{" "}
                    {showTime(s.begun_at, zone, "both")} by {s.how === "pin" ? "PIN" : "password"}, last seen{" "}
                    {showTime(s.seen_at, zone, "both")}
                  </li>
                ))}
              </ul>
            }
          />
        )}
      </div>
    </main>
  );
}
