import { createHmac, randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import type { Knex } from "knex";
import { createCookie, data, type MiddlewareFunction, redirect } from "react-router";
import { askOnce } from "../day/due.server";
import { findPerson, listPeople, type Person } from "../people/people.server";
import { nowIso } from "./clock.server";
import { dbContext, dueContext, personContext } from "./contexts.server";
import { database, databaseFile } from "./database.server";
import { Forbidden, may, rightOfRoute } from "./rights.server";

/** The secret that signs cookies: from the environment, or made once and kept beside the database. */
function cookieSecret(): string {
  if (process.env.BRINTEL_SECRET) return process.env.BRINTEL_SECRET;
  const file = databaseFile();
  if (file === ":memory:") return randomBytes(32).toString("hex");
  const path = join(dirname(file), "cookie-secret");
  const kept = existsSync(path) ? readFileSync(path, "utf8").trim() : "";
  // An empty file, as a full disk leaves it, would let nobody in for ever.
  if (kept.length >= 32) return kept;
  mkdirSync(dirname(path), { recursive: true });
  const secret = randomBytes(32).toString("hex");
  writeFileSync(path, secret, { mode: 0o600 });
  return secret;
}

const secret = cookieSecret();

/** Who is at the bench. Signed, so that it cannot be forged; a password is not asked for yet. */
export const benchCookie = createCookie("bench", {
  httpOnly: true,
  sameSite: "lax",
  path: "/",
  maxAge: 60 * 60 * 24 * 30,
  secrets: [secret],
});

/** Light, dark, or as the device says. */
export const themeCookie = createCookie("theme", { sameSite: "lax", path: "/", maxAge: 60 * 60 * 24 * 365 });

/** What nobody can guess of the calendar's address: calendars carry no cookie. */
export const calendarKey = (): string =>
  createHmac("sha256", secret).update("calendar of what is due").digest("base64url").slice(0, 24);

const openPaths = [
  /^\/people(\/|$)/,
  /^\/start(\/|$)/,
  /^\/api\/calculators(\/|$)/,
  /^\/schemas\//,
  /^\/due\//,
  /^\/clock$/,
  /^\/theme$/,
];

/** Who is at the bench, by the cookie of a request; undefined when nobody is. */
export async function whoIsHere(request: Request, db: Knex): Promise<Person | undefined> {
  const id: unknown = await benchCookie.parse(request.headers.get("Cookie"));
  return typeof id === "string" ? findPerson(db, id) : undefined;
}

/** Addresses that scripts of a page ask: they get a sentence, not another page. */
const scriptPaths = /^\/(bench|devices|rail|jump)(\/|$)/;

const refuse = (status: number, message: string) => Response.json({ message }, { status });

/**
 * Guards every route: opens the database, reads who is at the bench, leads strangers to the people list (or, on an empty
 * database, to the first steps), and stops what a role may not do.
 */
export const guard: MiddlewareFunction<Response> = async ({ request, context, url }, next) => {
  const db = await database();
  context.set(dbContext, db);
  context.set(dueContext, askOnce(db, nowIso()));
  const person = await whoIsHere(request, db);
  const open = openPaths.some((path) => path.test(url.pathname));
  if (person) {
    context.set(personContext, person);
    if (request.method === "POST" && !open) {
      const right = rightOfRoute(url.pathname);
      if (!right || !may(person, right)) {
        const { message } = new Forbidden(right ?? "people", person.role);
        if (scriptPaths.test(url.pathname)) return refuse(403, message);
        throw data({ message }, { status: 403 });
      }
    }
  } else if (!open) {
    if (scriptPaths.test(url.pathname)) {
      return refuse(401, "Choose who you are, then what you captured is sent: it is kept in this browser.");
    }
    const anyone = (await listPeople(db)).length > 0;
    throw redirect(anyone ? `/people?next=${encodeURIComponent(url.pathname + url.search)}` : "/start");
  }
  return next();
};

/** Where to go after choosing a person: only a path of this application, in plain letters. */
export const safeNext = (next: string | null): string =>
  next && /^\/(?![/\\])[\x21-\x7e]*$/.test(next) && !next.includes("\\") ? next : "/";
