import { redirect } from "react-router";
import { safeNext, themeCookie } from "../../server/platform/session.server";
import type { Route } from "./+types/theme";

/** Keeps the choice of light or dark. */
export async function action({ request }: Route.ActionArgs) {
  const form = await request.formData();
  const theme = form.get("theme") === "dark" ? "dark" : "light";
  const back = safeNext(String(form.get("next") ?? "/"));
  return redirect(back, { headers: { "Set-Cookie": await themeCookie.serialize(theme) } });
}
