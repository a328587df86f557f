import { readingsJsonSchema } from "../../server/exports.server";

/** The published schema of the readings file. */
export const loader = () => Response.json(readingsJsonSchema());
