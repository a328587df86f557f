import type { Knex } from "knex";
import { createCookie, data, type MiddlewareFunction, redirect } from "react-router";
import { askOnce } from "../day/due.server";
import { keyHolds } from "../people/keys.server";
import { listPeople, type Person } from "../people/people.server";
import { findSession, type Session } from "../people/sessions.server";
import type { Asking } from "../people/signIn.server";
import { nowIso } from "./clock.server";
import { config } from "./config.server";
import { dbContext, dueContext, personContext, sessionContext } from "./contexts.server";
import { database } from "./database.server";
import { Forbidden, may, rightOfRoute } from "./rights.server";

const carried = { httpOnly: true, sameSite: "lax", path: "/", secure: config().BRINTEL_TLS } as const;
const day_s = 24 * 60 * 60;

/** Who is at the bench: a random number that stands for a session in the database. */
export const sessionCookie = createCookie("session", { ...carried, maxAge: 7 * day_s });

/** Which browser this is, so that it can be unlocked for PINs, and locked. */
const browserCookie = createCookie("browser", { ...carried, maxAge: 365 * day_s });

/** Light, dark, or as the device says. */
export const themeCookie = createCookie("theme", { sameSite: "lax", path: "/", maxAge: 365 * day_s });

/** Anybody may ask these; what they show and do is for them to decide. */
const openPaths = [
  /^\/sign-in$/,
  /^\/start(\/|$)/,
  /^\/api\/calculators(\/|$)/,
  /^\/api\/openapi\.json$/,
  /^\/schemas\//,
  /^\/due\//,
  /^\/clock$/,
  /^\/theme$/,
];

/** What other programs read: with a key, or as somebody who is signed in. */
const programPaths = /^\/api\/v1(\/|$)/;

/** The key that a program sent with its request; an empty text where it sent none. */
const keyOf = (request: Request): string =>
  /^Bearer (\S+)$/.exec(request.headers.get("Authorization") ?? "")?.[1] ?? "";

/** Lets a program read that has a key. Programs change nothing. */
async function letProgram(request: Request, db: Knex): Promise<Response | null> {
  if (request.method !== "GET" && request.method !== "HEAD") return refuse(405, "This is read only.");
  if (await keyHolds(db, keyOf(request), nowIso())) return null;
  return Response.json(
    {
      message:
        "Send a key that holds: Authorization: Bearer brintel_… Whoever manages makes one on the page Keys for programs.",
    },
    { status: 401, headers: { "WWW-Authenticate": "Bearer" } },
  );
}

/** What is one's own: whoever is signed in may, whatever they do here. */
const ownPaths = /^\/(me|sign-out)$/;

const tokenOf = async (cookie: typeof sessionCookie, request: Request): Promise<string | null> => {
  const token: unknown = await cookie.parse(request.headers.get("Cookie"));
  return typeof token === "string" && token.length < 100 ? token : null;
};

/** The session of a request; undefined when nobody is signed in. */
async function sessionOf(request: Request, db: Knex): Promise<Session | undefined> {
  const token = await tokenOf(sessionCookie, request);
  return token === null ? undefined : findSession(db, token, nowIso());
}

/** Who is at the bench, by the cookie of a request; undefined when nobody is. */
export const whoIsHere = async (request: Request, db: Knex): Promise<Person | undefined> =>
  (await sessionOf(request, db))?.person;

/** Which browser asks to let somebody in. */
export const askingOf = async (request: Request): Promise<Asking> => ({
  browserToken: await tokenOf(browserCookie, request),
  agent: (request.headers.get("User-Agent") ?? "").slice(0, 300),
});

/** What a browser carries from now on. */
export async function signInHeaders(signedIn: { session: string; browser: string | null }): Promise<Headers> {
  const headers = new Headers();
  headers.append("Set-Cookie", await sessionCookie.serialize(signedIn.session));
  if (signedIn.browser) headers.append("Set-Cookie", await browserCookie.serialize(signedIn.browser));
  return headers;
}

/** Addresses that scripts of a page ask: they get a sentence, not another page. */
const scriptPaths = /^\/(bench|devices|rail|jump)(\/|$)/;

const refuse = (status: number, message: string) => Response.json({ message }, { status });

/** Stops what a role may not do. */
function stopForbidden({ role }: Person, pathname: string): Response | null {
  const right = rightOfRoute(pathname);
  if (right && may({ role }, right)) return null;
  const { message } = new Forbidden(right ?? "people", role);
  if (scriptPaths.test(pathname)) return refuse(403, message);
  throw data({ message }, { status: 403 });
}

/**
 * Guards every route: opens the database, reads who is at the bench, leads strangers to the sign-in (or, on an empty
 * database, to the first steps), who was given a password to a page where they choose their own, and stops what a role may not do.
 */
export const guard: MiddlewareFunction<Response> = async ({ request, context, url }, next) => {
  const db = await database();
  context.set(dbContext, db);
  context.set(dueContext, askOnce(db, nowIso()));
  const path = url.pathname.replace(/\.data$/, "");
  const session = await sessionOf(request, db);
  if (programPaths.test(path) && (!session || request.method === "POST")) {
    return (await letProgram(request, db)) ?? next();
  }
  const open = openPaths.some((pattern) => pattern.test(path));
  if (session) {
    context.set(personContext, session.person);
    context.set(sessionContext, session);
    if (open || ownPaths.test(path)) return next();
    if (session.mustChange) {
      if (scriptPaths.test(path)) return refuse(403, "Choose a password of your own first.");
      throw redirect("/me");
    }
    const stopped = request.method === "POST" ? stopForbidden(session.person, url.pathname) : null;
    if (stopped) return stopped;
  } else if (!open) {
    if (scriptPaths.test(path)) {
      return refuse(401, "Sign in, then what you captured is sent: it is kept in this browser.");
    }
    const anyone = (await listPeople(db)).length > 0;
    throw redirect(anyone ? `/sign-in?next=${encodeURIComponent(url.pathname + url.search)}` : "/start");
  }
  return next();
};

/** Where to go after signing in: only a path of this application, in plain letters. */
export const safeNext = (next: string | null): string =>
  next && /^\/(?![/\\])[\x21-\x7e]*$/.test(next) && !next.includes("\\") ? next : "/";
