import { data } from "react-router";
import { reasonOf } from "../platform/forms.server";
import { startRejudging } from "./rejudgeRunner.server";

/** Has something taken out of the record as a form asks for it, with its reason, and begins what follows of that; answers with a sentence. */
export async function takeOutByForm(
  form: FormData,
  takeOut: (reason: string) => Promise<{ refused?: string; rejudging?: string }>,
) {
  const said = reasonOf(form, "Say what was wrong with it.");
  if ("message" in said) return data(said, { status: 422 });
  const { refused, rejudging } = await takeOut(said.reason);
  if (refused) return data({ message: refused }, { status: 422 });
  if (rejudging) startRejudging(rejudging);
  return data({ message: "" });
}
