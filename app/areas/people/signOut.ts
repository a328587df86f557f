import { redirect } from "react-router";
import { endSession, findBrowser, lockBrowser } from "../../server/people/sessions.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, sessionContext } from "../../server/platform/contexts.server";
import { askingOf, sessionCookie } from "../../server/platform/session.server";
import { writeLocked } from "../../server/platform/write.server";
import type { Route } from "./+types/signOut";

/** Signs out, and locks the browser: the next one here needs a password. */
export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const session = context.get(sessionContext);
  const { browserToken } = await askingOf(request);
  const browser = browserToken ? await findBrowser(db, browserToken, nowIso()) : undefined;
  await writeLocked(db, async (trx) => {
    if (session) await endSession(trx, session.key);
    if (browser) await lockBrowser(trx, browser.id);
  });
  return redirect("/sign-in", {
    headers: { "Set-Cookie": await sessionCookie.serialize("", { maxAge: 0 }) },
  });
}
