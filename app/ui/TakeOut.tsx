import { Input } from "antd";
import { useId } from "react";
import { Form, useActionData, useNavigation } from "react-router";

/** Something that is seldom done, and then with a reason; folded away until it is wanted. */
export function WithReason({
  summary,
  label,
  hint,
  action,
}: {
  summary: string;
  label: string;
  hint: string;
  action: string;
}) {
  const answer = useActionData<{ message: string }>();
  const busy = useNavigation().state !== "idle";
  const id = useId();
  return (
    <details className="take-out" open={answer?.message ? true : undefined}>
      <summary>{summary}</summary>
      <Form method="post" className="stack close">
        <label htmlFor={id}>{label}</label>
        <Input id={id} name="reason" size="large" maxLength={200} status={answer?.message ? "error" : ""} />
        {answer?.message && (
          <div className="wrong" role="alert">
            {answer.message}
          </div>
        )}
        <p className="quiet small">{hint}</p>
        <div className="cluster">
          <button type="submit" className="calm strong" disabled={busy}>
            {action}
          </button>
        </div>
      </Form>
    </details>
  );
}

/** Takes the results of a report out of the record. */
export const TakeOut = () => (
  <WithReason
    summary="Take this result out of the record"
    label="Why it does not count"
    hint="It stays to be seen, with everything it rests on, and is not counted any more."
    action="Take it out"
  />
);
