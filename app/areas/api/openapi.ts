import { openApi } from "../../server/exchange/openapi.server";

/** What other programs may ask, in the common form. */
export const loader = () => Response.json(openApi());
