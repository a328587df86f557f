import { Form } from "react-router";
import { counted } from "../../../core/quantity/format";
import { SecretField } from "../../ui/SecretField";
import { TextField } from "../../ui/TextField";

/** Signing: what it covers, what keeps it from being done, and the password that stands for the signature. */
export function SignCard({
  count,
  own,
  left,
  errors,
  mayReview,
  busy,
}: {
  /** How many would be signed. */
  count: number;
  /** How many were measured by whoever would sign. */
  own: number;
  /** How many are still to be looked at. */
  left: number;
  errors: Record<string, string>;
  mayReview: boolean;
  busy: boolean;
}) {
  if (!mayReview) return <p className="note">A reviewer signs this shift.</p>;
  return (
    <section className="sheet" aria-label="Sign">
      <h2>Sign the shift</h2>
      {errors.sign && (
        <p className="wrong" role="alert">
          {errors.sign}
        </p>
      )}
      {left > 0 ? (
        <p>{counted(left, "result")} above must be looked at first.</p>
      ) : count === 0 ? (
        <p>You measured all of this yourself: somebody else signs it.</p>
      ) : (
        <Form method="post" className="form" preventScrollReset>
          <input type="hidden" name="do" value="sign" />
          <input type="hidden" name="of" value="sign" />
          <p>
            Your signature seals {counted(count, "result")} as they are now. After it they change by amendment
            only.
            {own > 0 && ` ${counted(own, "result")} of your own are left to somebody else.`}
          </p>
          <TextField
            name="comment"
            label="A word on the shift"
            wrong={errors.comment}
            hint="May be left empty."
          />
          <SecretField
            name="password"
            label="Your password, in place of your hand"
            kind="current-password"
            wrong={errors.password}
          />
          <div className="actions">
            <button type="submit" className="act" disabled={busy}>
              Sign
            </button>
          </div>
        </Form>
      )}
    </section>
  );
}
