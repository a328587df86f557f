import { redirect } from "react-router";
import { dbContext } from "../../server/platform/contexts.server";
import { sampleCalled } from "../../server/samples/samples.server";
import type { Route } from "./+types/find";

/** Leads from a code that was scanned or typed to its sample, or to the register where none bears it. */
export async function loader({ url, context }: Route.LoaderArgs) {
  const code = (url.searchParams.get("code") ?? "").slice(0, 60);
  const sample = await sampleCalled(context.get(dbContext), code);
  return redirect(
    sample ? `/samples/${sample.id}` : `/samples?which=all&missing=${encodeURIComponent(code)}`,
  );
}
