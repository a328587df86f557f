import type { Knex } from "knex";
import { createContext } from "react-router";
import type { Person } from "./people.server";

/** Per-request nonce of the content security policy. */
export const nonceContext = createContext<string>("");

/** The database and the person at the bench, for every loader and action behind the middleware. */
export const dbContext = createContext<Knex>();
export const personContext = createContext<Person>();
