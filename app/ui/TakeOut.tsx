import { Input } from "antd";
import { useId } from "react";
import { Form as RouterForm, useActionData, useFetcher } from "react-router";
import { useSending } from "./useSending";

/** Something that is seldom done, and then with a reason; folded away until it is wanted. */
export function WithReason({
  summary,
  label,
  hint,
  action,
  elsewhere,
}: {
  summary: string;
  label: string;
  hint: string;
  action: string;
  /** Where it is sent, and what it is about, when that is not the page it stands on. */
  elsewhere?: { to: string; reading: string };
}) {
  const here = useActionData<{ message: string }>();
  const fetcher = useFetcher<{ message: string }>();
  const answer = elsewhere ? fetcher.data : here;
  const busy = useSending() || fetcher.state !== "idle";
  const id = useId();
  const Form = elsewhere ? fetcher.Form : RouterForm;
  return (
    <details className="take-out" open={answer?.message ? true : undefined}>
      <summary>{summary}</summary>
      <Form method="post" className="stack close" {...(elsewhere ? { action: elsewhere.to } : {})}>
        {elsewhere && <input type="hidden" name="reading" value={elsewhere.reading} />}
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
export const TakeOut = ({ elsewhere }: { elsewhere?: { to: string; reading: string } }) => (
  <WithReason
    {...(elsewhere ? { elsewhere } : {})}
    summary="Take this result out of the record"
    label="Why it does not count"
    hint="It stays to be seen, with everything it rests on, and is not counted any more."
    action="Take it out"
  />
);
