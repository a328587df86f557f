import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { createCookie, type MiddlewareFunction, redirect } from "react-router";
import { dbContext, dueContext, personContext } from "./contexts.server";
import { database, databaseFile } from "./database.server";
import { askOnce } from "./due.server";
import { findPerson, listPeople } from "./people.server";

/** The secret that signs cookies: from the environment, or made once and kept beside the database. */
function cookieSecret(): string {
  if (process.env.BRINTEL_SECRET) return process.env.BRINTEL_SECRET;
  const file = databaseFile();
  if (file === ":memory:") return randomBytes(32).toString("hex");
  const path = join(dirname(file), "cookie-secret");
  if (existsSync(path)) return readFileSync(path, "utf8");
  mkdirSync(dirname(path), { recursive: true });
  const secret = randomBytes(32).toString("hex");
  writeFileSync(path, secret, { mode: 0o600 });
  return secret;
}

/** Who is at the bench. Signed, so that it cannot be forged; a password is not asked for yet. */
export const benchCookie = createCookie("bench", {
  httpOnly: true,
  sameSite: "lax",
  path: "/",
  maxAge: 60 * 60 * 24 * 30,
  secrets: [cookieSecret()],
});

/** Light, dark, or as the device says. */
export const themeCookie = createCookie("theme", { sameSite: "lax", path: "/", maxAge: 60 * 60 * 24 * 365 });

const openPaths = [
  /^\/people(\/|$)/,
  /^\/start(\/|$)/,
  /^\/api\/calculators(\/|$)/,
  /^\/schemas\//,
  // Calendars carry no cookie.
  /^\/due\.ics$/,
  /^\/theme$/,
];

/**
 * Guards every route: opens the database, reads who is at the bench and leads strangers to the people list
 * (or, on an empty database, to the first steps).
 */
export const guard: MiddlewareFunction<Response> = async ({ request, context, url }, next) => {
  const db = await database();
  context.set(dbContext, db);
  context.set(dueContext, askOnce(db, new Date().toISOString()));
  const id: unknown = await benchCookie.parse(request.headers.get("Cookie"));
  const person = typeof id === "string" ? await findPerson(db, id) : undefined;
  if (person) {
    context.set(personContext, person);
  } else if (!openPaths.some((path) => path.test(url.pathname))) {
    const anyone = (await listPeople(db)).length > 0;
    throw redirect(anyone ? `/people?next=${encodeURIComponent(url.pathname + url.search)}` : "/start");
  }
  return next();
};

/** Where to go after choosing a person: only a path of this application. */
export const safeNext = (next: string | null): string => (next && /^\/(?![/\\])/.test(next) ? next : "/");
