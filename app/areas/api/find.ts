import { redirect } from "react-router";
import { dbContext } from "../../server/platform/contexts.server";
import { sampleCalled } from "../../server/samples/samples.server";
import { lotsOfCodes, lotsOfIds } from "../../server/stock/lots.server";
import type { Route } from "./+types/find";

/** Leads from a code that was scanned or typed to its sample or lot, or to the register where none bears it. */
export async function loader({ url, context }: Route.LoaderArgs) {
  const code = (url.searchParams.get("code") ?? "").slice(0, 60);
  const sample = await sampleCalled(context.get(dbContext), code);
  const [lot] = sample ? [] : await lotsOfCodes(context.get(dbContext), [code]);
  const [scanned] = sample || lot ? [] : await lotsOfIds(context.get(dbContext), [code]);
  const found = lot ?? scanned;
  if (found) return redirect(`/stock/${found.id}`);
  return redirect(
    sample ? `/samples/${sample.id}` : `/samples?which=all&missing=${encodeURIComponent(code)}`,
  );
}
