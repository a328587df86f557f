import { exportOf } from "../../server/exchange/ledgerExport.server";
import { dbContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/exportPackage";

export const loader = ({ url, context }: Route.LoaderArgs) => exportOf(context.get(dbContext), url, "zip");
