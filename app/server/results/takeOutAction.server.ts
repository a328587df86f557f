import { data } from "react-router";
import { textField } from "../platform/forms.server";
import { startRejudging } from "./rejudgeRunner.server";

/** Has something taken out of the record as a form asks for it, with its reason, and begins what follows of that; answers with a sentence. */
export async function takeOutByForm(
  form: FormData,
  takeOut: (reason: string) => Promise<{ refused?: string; rejudging?: string }>,
) {
  const reason = textField(form, "reason");
  if (!reason) return data({ message: "Say what was wrong with it." }, { status: 422 });
  if (reason.length > 200) return data({ message: "Keep the reason under 201 characters." }, { status: 422 });
  const { refused, rejudging } = await takeOut(reason);
  if (refused) return data({ message: refused }, { status: 422 });
  if (rejudging) startRejudging(rejudging);
  return data({ message: "" });
}
