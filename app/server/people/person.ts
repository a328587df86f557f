import type { Role } from "../platform/rights.server";

/** Somebody who works here. */
export interface Person {
  id: string;
  name: string;
  role: Role;
}
