import { readingsJsonSchema } from "../../server/exchange/exports.server";

/** The published schema of the readings file. */
export const loader = () => Response.json(readingsJsonSchema());
