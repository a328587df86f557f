import type { Knex } from "knex";
import { data, redirect } from "react-router";
import type { Person } from "../people/people.server";
import { nowIso } from "../platform/clock.server";
import { textField } from "../platform/forms.server";
import { voidResults } from "./void.server";

/** What a report's page does when somebody takes its results out. */
export async function voidAction(db: Knex, person: Person, workId: string, request: Request) {
  const reason = textField(await request.formData(), "reason");
  if (reason === "") return data({ message: "Say why it is taken out." }, { status: 422 });
  if (reason.length > 200) return data({ message: "Keep the reason under 201 characters." }, { status: 422 });
  const count = await voidResults(db, person, workId, reason, nowIso());
  if (count === 0) return data({ message: "There is nothing here to take out." }, { status: 422 });
  return redirect(new URL(request.url).pathname.replace(/\.data$/, ""));
}
