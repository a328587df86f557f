import { Input } from "antd";
import { useId } from "react";
import { Form, useActionData, useNavigation } from "react-router";

/** Takes the results of a report out of the record, with a reason; folded away, since it is seldom the thing to do. */
export function TakeOut() {
  const answer = useActionData<{ message: string }>();
  const busy = useNavigation().state !== "idle";
  const id = useId();
  return (
    <details className="take-out" open={answer?.message ? true : undefined}>
      <summary>Take this result out of the record</summary>
      <Form method="post" className="stack close">
        <label htmlFor={id}>Why it does not count</label>
        <Input id={id} name="reason" size="large" maxLength={200} status={answer?.message ? "error" : ""} />
        {answer?.message && (
          <div className="wrong" role="alert">
            {answer.message}
          </div>
        )}
        <p className="quiet small">
          It stays to be seen, with everything it rests on, and is not counted any more.
        </p>
        <button type="submit" className="calm strong" disabled={busy}>
          Take it out
        </button>
      </Form>
    </details>
  );
}
