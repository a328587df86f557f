import { custodyJsonSchema } from "../../../core/samples/custodyDocument";

/** The published schema of a batch. */
export const loader = () => Response.json(custodyJsonSchema());
