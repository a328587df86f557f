import type { Knex } from "knex";
import { data, redirect } from "react-router";
import type { Person } from "../people/people.server";
import { nowIso } from "../platform/clock.server";
import { reasonOf, textField } from "../platform/forms.server";
import { voidResults } from "./void.server";

/**
 * What a report's page does when somebody takes its results out; where its form names one (`reading`), only that, and the page it
 * stands on goes on.
 */
export async function voidAction(db: Knex, person: Person, workId: string, request: Request) {
  const form = await request.formData();
  const said = reasonOf(form, "Say why it is taken out.");
  const only = textField(form, "reading") || undefined;
  if ("message" in said) return data(said, { status: 422 });
  const count = await voidResults(db, person, workId, said.reason, nowIso(), only);
  if (count === 0) return data({ message: "There is nothing here to take out." }, { status: 422 });
  if (only) return data({ message: "" });
  return redirect(new URL(request.url).pathname.replace(/\.data$/, ""));
}
