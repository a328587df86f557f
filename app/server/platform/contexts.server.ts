import type { Knex } from "knex";
import { createContext } from "react-router";
import type { DueEntry } from "../day/dueEntry";
import type { Person } from "../people/people.server";
import type { Session } from "../people/sessions.server";

/** Per-request nonce of the content security policy. */
export const nonceContext = createContext<string>("");

/** The database and the person at the bench, for every loader and action behind the middleware. */
export const dbContext = createContext<Knex>();
export const personContext = createContext<Person>();

/** How they are signed in; null where nobody is. */
export const sessionContext = createContext<Session | null>(null);

/** What is due at this moment, asked for once a request. */
export const dueContext = createContext<() => Promise<DueEntry[]>>();
