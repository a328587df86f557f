import type { Knex } from "knex";
import { data, redirect } from "react-router";
import type { Person } from "../people/people.server";
import { nowIso } from "../platform/clock.server";
import { textField } from "../platform/forms.server";
import { voidResults } from "./void.server";

/**
 * What a report's page does when somebody takes its results out; where its form names one (`reading`), only that, and the page it
 * stands on goes on.
 */
export async function voidAction(db: Knex, person: Person, workId: string, request: Request) {
  const form = await request.formData();
  const reason = textField(form, "reason");
  const only = textField(form, "reading") || undefined;
  if (reason === "") return data({ message: "Say why it is taken out." }, { status: 422 });
  if (reason.length > 200) return data({ message: "Keep the reason under 201 characters." }, { status: 422 });
  const count = await voidResults(db, person, workId, reason, nowIso(), only);
  if (count === 0) return data({ message: "There is nothing here to take out." }, { status: 422 });
  if (only) return data({ message: "" });
  return redirect(new URL(request.url).pathname.replace(/\.data$/, ""));
}
